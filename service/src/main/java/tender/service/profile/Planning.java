package tender.service.profile;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.stream.Collectors;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.network.AddressPlan;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.profile.ClientProfile;
import tender.service.refusal.Refused;
import tender.store.jdbc.Tx;
import tender.store.office.Listeners;
import tender.store.office.Sites;
import tender.store.profile.ListenerProfiles;

/** Works out what a profile for a listener holds. */
final class Planning {
    private static final int KEEP_ALIVE_SECONDS = 25;

    private Planning() {}

    /** Free tunnel addresses of a listener, one after the other; nobody else gets them while the listener is locked. */
    static final class Addresses {
        private final Map<Cidr, AddressPlan.FreeAddresses> free = new LinkedHashMap<>();
        private final Set<IpAddress> taken;

        Addresses(Tx tx, Listeners.Listener listener) {
            this.taken = new HashSet<>(ListenerProfiles.taken(tx, listener.id()));
            taken.addAll(listener.taken());
            listener.insideAddress().ifPresent(taken::add);
            listener.tunnels().forEach(t -> free.put(t, new AddressPlan.FreeAddresses(t, taken)));
        }

        private void refuseTaken(IpAddress wanted) {
            if (free.keySet().stream().noneMatch(network -> AddressPlan.isHost(network, wanted))) {
                throw new Refused(
                        Refused.Kind.MALFORMED,
                        wanted + " is no address for callers in "
                                + free.keySet().stream().map(Cidr::toString).collect(Collectors.joining(", ")),
                        "address");
            }
            if (taken.contains(wanted)) {
                throw new Refused(Refused.Kind.CONFLICT, wanted + " is taken already", "address");
            }
        }

        /** The next free one of each of the listener's networks. */
        List<IpAddress> next() {
            return next(Optional.empty());
        }

        /** The same with one that is wanted in its network, which has to be free. */
        List<IpAddress> next(Optional<IpAddress> wanted) {
            wanted.ifPresent(this::refuseTaken);
            List<IpAddress> out = new ArrayList<>();
            free.forEach((tunnel, addresses) -> out.add(wanted.filter(tunnel::contains)
                    .or(addresses::next)
                    .orElseThrow(() -> new Refused(
                            Refused.Kind.CONFLICT,
                            "the tunnel network " + tunnel
                                    + " has no free address left; withdraw unused profiles or widen it"))));
            if (out.isEmpty()) {
                throw new Refused(Refused.Kind.CONFLICT, "the listener has no tunnel network");
            }
            return out;
        }
    }

    static List<Cidr> reach(
            boolean fullTunnel, Optional<List<Cidr>> wanted, Sites.Site site, Listeners.Listener listener) {
        if (fullTunnel) {
            return everything();
        }
        if (wanted.isPresent()) {
            return wanted.get();
        }
        List<Cidr> out = new ArrayList<>(listener.tunnels());
        out.addAll(site.networks().values());
        return out.stream().distinct().sorted().toList();
    }

    static List<Cidr> everything() {
        return List.of(Cidr.EVERYTHING_V4, Cidr.EVERYTHING_V6);
    }

    static Endpoint endpoint(Listeners.Listener listener) {
        return listener.endpoint()
                .orElseThrow(() -> new Refused(
                        Refused.Kind.CONFLICT,
                        listener.gateway() + " has no endpoint for clients to call; set it: tender gateway set "
                                + listener.gateway() + " --endpoint HOST"));
    }

    /** What the file depends on, by the words of attributes, and what it calls. */
    static Map<String, String> madeFor(Listeners.Listener l, List<Cidr> reach) {
        Map<String, String> out = new LinkedHashMap<>();
        out.put(Attribute.PROTOCOL.word(), l.protocol());
        out.put(Attribute.TRANSPORT.word(), l.transport().word());
        out.put(Attribute.PORT.word(), l.port().toString());
        out.put(Attribute.PUBLIC_KEY.word(), l.publicKey());
        out.put(
                Attribute.TUNNEL_NETWORK.word(),
                String.join(", ", l.tunnels().stream().map(Object::toString).toList()));
        out.put(
                Attribute.REACH.word(),
                String.join(", ", reach.stream().map(Object::toString).toList()));
        out.put("endpoint", l.endpoint().map(Object::toString).orElse(""));
        return out;
    }

    static String text(
            String label,
            Optional<Secret> privateKey,
            Optional<Secret> presharedKey,
            Listeners.Listener listener,
            List<IpAddress> addresses,
            List<Cidr> reach,
            List<IpAddress> dns) {
        return new ClientProfile(
                        label,
                        privateKey,
                        addresses.stream()
                                .map(a -> new InterfaceAddress(a, a.family().bits()))
                                .toList(),
                        dns,
                        OptionalInt.empty(),
                        TunnelKey.parse(listener.publicKey()),
                        presharedKey,
                        endpoint(listener),
                        reach,
                        OptionalInt.of(KEEP_ALIVE_SECONDS))
                .text();
    }
}
