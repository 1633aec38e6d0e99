package tender.core.proposal;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import tender.core.network.Cidr;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Protocol;
import tender.core.office.Protocol.PortSpec;

/** The listeners of one gateway, as its client files show them. */
final class ListenerProposal {
    /** One listener: by protocol, and by port or public key. */
    private record Mark(Protocol protocol, PortSpec port, Optional<String> key) {}

    private final Map<Mark, List<Grouping.Read>> marks = new LinkedHashMap<>();
    private final Map<Mark, String> names = new LinkedHashMap<>();
    /** Those that exist and are used as they are. */
    private final Set<Mark> known = new LinkedHashSet<>();

    /** @param existing the gateway's listeners so far */
    ListenerProposal(List<Grouping.Read> group, List<Listener> existing) {
        for (Grouping.Read f : group) {
            for (PortSpec port : f.listener().ports()) {
                marks.computeIfAbsent(mark(f, port), m -> new ArrayList<>()).add(f);
            }
        }
        Set<String> taken = existing.stream().map(Listener::name).collect(Collectors.toSet());
        for (Mark mark : marks.keySet()) {
            Optional<Listener> same =
                    existing.stream().filter(l -> isSame(mark, l)).findFirst();
            same.ifPresent(l -> known.add(mark));
            String name = same.map(Listener::name).orElseGet(() -> name(mark, taken));
            names.put(mark, name);
            taken.add(name);
        }
    }

    private static Mark mark(Grouping.Read f, PortSpec port) {
        boolean keyed = f.file().protocol() == Protocol.WIREGUARD
                && f.listener().secret().isPresent();
        return new Mark(f.file().protocol(), port, keyed ? f.listener().secret() : Optional.empty());
    }

    private static boolean isSame(Mark mark, Listener l) {
        return l.protocol() == mark.protocol
                && (mark.key.isPresent()
                        ? l.get(Attribute.PUBLIC_KEY).equals(mark.key)
                        : l.ports().contains(mark.port));
    }

    /** The protocol, and transport and port where that is not enough. */
    private String name(Mark mark, Set<String> taken) {
        String word = mark.protocol.word();
        boolean several =
                marks.keySet().stream().filter(m -> m.protocol == mark.protocol).count() > 1;
        String name = several ? word + "-" + CalledListener.word(mark.port) : word;
        for (int n = 2; taken.contains(name); n++) {
            name = word + "-" + n;
        }
        return name;
    }

    /** The name of the listener that a file calls first. */
    String of(Grouping.Read f) {
        return names.get(mark(f, f.listener().ports().get(0)));
    }

    boolean exists(Grouping.Read f) {
        return known.contains(mark(f, f.listener().ports().get(0)));
    }

    /** Those that the gateway does not have yet. */
    List<Listener> fresh() {
        return marks.keySet().stream()
                .filter(m -> !known.contains(m))
                .map(m -> new Listener(names.get(m), values(m, marks.get(m))))
                .toList();
    }

    private static Map<Attribute, String> values(Mark mark, List<Grouping.Read> files) {
        Map<Attribute, String> out = new EnumMap<>(Attribute.class);
        for (Attribute a : Attribute.values()) {
            Grouping.most(files.stream()
                            .flatMap(f ->
                                    Optional.ofNullable(f.listener().values().get(a)).stream())
                            .toList())
                    .ifPresent(value -> out.put(a, value));
        }
        out.put(Attribute.TRANSPORT, mark.port.transport().word());
        out.put(Attribute.PORT, mark.port.port().toString());
        String tunnels = files.stream()
                .flatMap(f -> f.listener().tunnel().stream())
                .distinct()
                .map(Cidr::toString)
                .collect(Collectors.joining(", "));
        if (!tunnels.isEmpty()) {
            out.put(Attribute.TUNNEL_NETWORK, tunnels);
        }
        return out;
    }
}
