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
 * same public key. Files whose host is a placeholder go by their authority, where only one gateway has it.
 */
final class Grouping {
    /** One client file with what it says of its listener. */
    record Read(ClientFile file, CalledListener listener) {}

    private final Map<String, String> leads = new HashMap<>();

    private Grouping() {}

    /** The groups, in the order of their first files. */
    static List<List<Read>> of(List<Read> files) {
        Grouping grouping = new Grouping();
        files.forEach(f -> grouping.join(own(f), marks(f.listener)));
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
        return List.copyOf(groups.values());
    }

    private static String own(Read f) {
        return "file:" + f.file.path();
    }

    private static List<String> marks(CalledListener l) {
        List<String> out = new ArrayList<>();
        l.hosts().forEach(h -> out.add("host:" + h));
        l.secret().ifPresent(s -> out.add("secret:" + s));
        return out;
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

    /** Hosts that files call, those first that most call. */
    static List<Host> hosts(List<Read> group) {
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
