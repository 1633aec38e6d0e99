package tender.core.proposal;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;
import tender.core.network.Host;

/**
 * Puts client files together that lead to the same gateway: those that call the same host, share a control-channel key or know the
 * same public key. Files whose host is a placeholder go by their authority, where only one gateway has it. A file that calls several
 * hosts joins them, except where other files show that these are different gateways.
 */
final class Grouping {
    /** One client file with what it says of its listener. */
    record Read(ClientFile file, CalledListener listener) {}

    /**
     * Files that lead to one gateway.
     *
     * @param hosts that they call, those first that most call; not those that lead to another gateway
     */
    record Group(List<Read> files, List<Host> hosts) {}

    private final Map<String, String> leads = new HashMap<>();

    private Grouping() {}

    /** The groups, in the order of their first files. */
    static List<Group> of(List<Read> files) {
        Grouping grouping = new Grouping();
        Map<Host, Set<String>> shown = shown(files);
        files.forEach(f -> grouping.join(own(f), marks(f.listener, shown)));
        Map<String, Set<String>> byAuthority = new HashMap<>();
        for (Read f : files) {
            if (!f.listener.hosts().isEmpty()) {
                f.listener
                        .authority()
                        .ifPresent(a -> byAuthority
                                .computeIfAbsent(a, x -> new TreeSet<>())
                                .add(grouping.lead(own(f))));
            }
        }
        for (Read f : files) {
            Set<String> leads = f.listener.hosts().isEmpty()
                    ? f.listener.authority().map(byAuthority::get).orElse(Set.of())
                    : Set.of();
            if (leads != null && leads.size() == 1) {
                grouping.join(own(f), List.copyOf(leads));
            }
        }
        Map<String, List<Read>> groups = new LinkedHashMap<>();
        files.forEach(f -> groups.computeIfAbsent(grouping.lead(own(f)), l -> new ArrayList<>())
                .add(f));
        return groups.entrySet().stream()
                .map(g -> new Group(
                        g.getValue(),
                        hosts(g.getValue()).stream()
                                .filter(h -> grouping.lead(mark(h)).equals(g.getKey()))
                                .toList()))
                .toList();
    }

    private static String mark(Host host) {
        return "host:" + host;
    }

    private static String own(Read f) {
        return "file:" + f.file.path();
    }

    /** What the files that call one host alone share with each other: keys and authorities. */
    private static Map<Host, Set<String>> shown(List<Read> files) {
        Map<Host, Set<String>> out = new HashMap<>();
        for (Read f : files) {
            if (f.listener.hosts().size() == 1) {
                out.computeIfAbsent(f.listener.hosts().get(0), h -> new TreeSet<>())
                        .addAll(shared(f.listener));
            }
        }
        return out;
    }

    private static Set<String> shared(CalledListener l) {
        Set<String> out = new TreeSet<>();
        l.secret().ifPresent(s -> out.add("secret:" + s));
        l.authority().ifPresent(a -> out.add("authority:" + a));
        return out;
    }

    private static List<String> marks(CalledListener l, Map<Host, Set<String>> shown) {
        List<String> out = new ArrayList<>();
        Set<String> own = shared(l);
        Optional<Host> home = l.hosts().stream()
                .filter(h -> shown.getOrDefault(h, Set.of()).stream().anyMatch(own::contains))
                .findFirst()
                .or(() -> l.hosts().stream().findFirst());
        l.hosts().stream()
                .filter(h -> home.get().equals(h) || !areDifferent(home.get(), h, shown))
                .forEach(h -> out.add(mark(h)));
        l.secret().ifPresent(s -> out.add("secret:" + s));
        return out;
    }

    /** Whether files that call the one share nothing with files that call the other. */
    private static boolean areDifferent(Host one, Host other, Map<Host, Set<String>> shown) {
        Set<String> first = shown.getOrDefault(one, Set.of());
        Set<String> second = shown.getOrDefault(other, Set.of());
        return !first.isEmpty() && !second.isEmpty() && first.stream().noneMatch(second::contains);
    }

    private void join(String one, List<String> others) {
        for (String other : others) {
            leads.put(lead(other), lead(one));
        }
    }

    private String lead(String of) {
        String at = of;
        while (leads.containsKey(at) && !leads.get(at).equals(at)) {
            at = leads.get(at);
        }
        if (!at.equals(of)) {
            leads.put(of, at); // the next one looks at one step
        }
        return at;
    }

    private static List<Host> hosts(List<Read> group) {
        Map<Host, Long> counts = group.stream()
                .flatMap(f -> f.listener.hosts().stream())
                .collect(Collectors.groupingBy(Function.identity(), LinkedHashMap::new, Collectors.counting()));
        return counts.entrySet().stream()
                .sorted(Map.Entry.<Host, Long>comparingByValue(Comparator.reverseOrder()))
                .map(Map.Entry::getKey)
                .toList();
    }

    /** What most of them say; the first of several that equally many say. */
    static <T> Optional<T> most(List<T> said) {
        Map<T, Long> counts = said.stream()
                .collect(Collectors.groupingBy(Function.identity(), LinkedHashMap::new, Collectors.counting()));
        return counts.entrySet().stream()
                .reduce((first, other) -> other.getValue() > first.getValue() ? other : first)
                .map(Map.Entry::getKey);
    }
}
