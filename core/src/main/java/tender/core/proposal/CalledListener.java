package tender.core.proposal;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import tender.core.certificate.CertificateFacts;
import tender.core.inspect.Beside;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Protocol;
import tender.core.profile.IkeProfile;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.WireGuardFile;
import tender.core.trial.ObservedSettings;
import tender.core.wire.MalformedException;
import tender.core.wire.Sha256;

/**
 * What one client file says of the listener that it calls.
 *
 * @param calls what it calls, in order; without what is no host
 * @param ports transport and port of each call, also of one whose host is a placeholder; at least one
 * @param authority fingerprint of the authority that it trusts
 * @param secret what the clients of one listener share: its public key, or the digest of its control-channel key
 * @param tunnel the network of its own tunnel address, where it says or suggests one
 */
record CalledListener(
        List<Endpoint> calls,
        List<Protocol.PortSpec> ports,
        Optional<String> authority,
        Optional<String> secret,
        Optional<Cidr> tunnel,
        Map<Attribute, String> values) {
    /** As long as device files give it. */
    private static final int FINGERPRINT = 32;

    private static final int USUAL_TUNNEL_V4 = 24;
    private static final int USUAL_TUNNEL_V6 = 64;
    private static final Port WIREGUARD_PORT = new Port(51820);

    CalledListener {
        calls = List.copyOf(calls);
        ports = List.copyOf(ports);
    }

    static CalledListener of(ClientFile file) {
        return switch (file.protocol()) {
            case OPENVPN -> openVpn(file);
            case IKEV2 -> ike(file);
            default -> wireGuard(WireGuardFile.read(file.text()).file());
        };
    }

    /** The same, with what the server's certificate says where it was given too. */
    CalledListener with(ClientFile file, Beside beside) {
        List<String> names =
                new ArrayList<>(hosts().stream().map(Host::toString).toList());
        Optional.ofNullable(values.get(Attribute.SERVER_NAMES)).ifPresent(names::add);
        Map<Attribute, String> all = new EnumMap<>(values);
        authorityOf(file)
                .flatMap(a -> beside.server(a, names))
                .ifPresent(server -> ObservedSettings.of(server).forEach(all::put));
        return new CalledListener(calls, ports, authority, secret, tunnel, all);
    }

    /** Hosts that can be called, none twice. */
    List<Host> hosts() {
        return calls.stream()
                .filter(e -> !e.isPlaceholder())
                .map(Endpoint::host)
                .distinct()
                .toList();
    }

    private static Optional<CertificateFacts> authorityOf(ClientFile file) {
        return file.inspection().certificates().stream()
                .filter(c -> c.role() == CertificateFacts.Role.AUTHORITY)
                .findFirst();
    }

    private static Optional<String> authority(ClientFile file) {
        return authorityOf(file).map(c -> c.fingerprint().substring(0, FINGERPRINT));
    }

    private static CalledListener openVpn(ClientFile file) {
        OpenVpnClient c = OpenVpnClient.read(file.text());
        Map<Attribute, String> v = new EnumMap<>(Attribute.class);
        v.put(Attribute.PROTOCOL, Protocol.OPENVPN.word());
        put(v, Attribute.CIPHERS, c.ciphers().stream().map(String::toUpperCase).toList());
        put(v, Attribute.DIGEST, List.of(c.digest()));
        v.put(
                Attribute.CONTROL_CHANNEL_KEY,
                c.controlChannelKey().map(k -> k.kind()).orElse("none"));
        boolean certificate = c.certificate().isPresent() || c.keyStore().isPresent();
        v.put(Attribute.CLIENT_CERTIFICATE, certificate ? "yes" : "no");
        v.put(Attribute.ACCOUNTS, c.asksPassword() ? "local" : "none");
        put(v, Attribute.REACH, reach(c.full4(), c.full6(), c.reach()));
        put(v, Attribute.DNS, c.dns());
        c.checksName().flatMap(d -> d.word(0)).ifPresent(n -> put(v, Attribute.SERVER_NAMES, List.of(n)));
        Optional<String> authority = authority(file);
        authority.ifPresent(a -> v.put(Attribute.AUTHORITY, a));
        return new CalledListener(
                c.calls().stream().flatMap(x -> x.endpoint().stream()).toList(),
                c.calls().isEmpty()
                        ? List.of(new Protocol.PortSpec(Transport.UDP, new Port(1194)))
                        : c.calls().stream()
                                .map(x -> new Protocol.PortSpec(x.transport(), x.port()))
                                .distinct()
                                .toList(),
                authority,
                c.controlChannelKey()
                        .filter(k -> !k.kind().equals("crypt-v2")) // of which each client has another
                        .flatMap(k -> k.key().text())
                        .map(k -> Sha256.hex(k.strip().getBytes(java.nio.charset.StandardCharsets.ISO_8859_1))),
                Optional.empty(),
                v);
    }

    private static CalledListener wireGuard(WireGuardFile file) {
        Map<Attribute, String> v = new EnumMap<>(Attribute.class);
        v.put(Attribute.PROTOCOL, Protocol.WIREGUARD.word());
        List<InterfaceAddress> own = file.own().map(o -> o.addresses()).orElse(List.of());
        Optional<Cidr> tunnel = own.stream().findFirst().map(CalledListener::tunnel);
        List<Cidr> reach = file.peers().stream()
                .flatMap(p -> p.allowed().stream())
                .map(InterfaceAddress::network)
                .filter(n -> tunnel.filter(t -> t.contains(n)).isEmpty())
                .distinct()
                .toList();
        put(v, Attribute.REACH, reach);
        put(
                v,
                Attribute.DNS,
                file.own().map(o -> o.dns()).orElse(List.of()).stream()
                        .filter(Host.Literal.class::isInstance)
                        .toList());
        file.own()
                .flatMap(o -> o.mtu().stream().boxed().findFirst())
                .ifPresent(m -> v.put(Attribute.MTU, Integer.toString(m)));
        Optional<String> key = file.peers().stream()
                .flatMap(p -> p.publicKey().stream())
                .findFirst()
                .map(Object::toString);
        key.ifPresent(k -> v.put(Attribute.PUBLIC_KEY, k));
        List<Endpoint> calls =
                file.peers().stream().flatMap(p -> p.endpoint().stream()).toList();
        return new CalledListener(
                calls,
                List.of(new Protocol.PortSpec(
                        Transport.UDP,
                        calls.stream().findFirst().map(Endpoint::port).orElse(WIREGUARD_PORT))),
                Optional.empty(),
                key,
                tunnel,
                v);
    }

    /** As the address says; of a host's address alone the network that such tunnels usually have. */
    private static Cidr tunnel(InterfaceAddress address) {
        IpAddress a = address.address();
        boolean alone = address.network().prefix() == a.family().bits();
        return alone ? Cidr.of(a, a.isV4() ? USUAL_TUNNEL_V4 : USUAL_TUNNEL_V6) : address.network();
    }

    private static CalledListener ike(ClientFile file) {
        IkeProfile c = IkeProfile.read(file.text());
        Map<Attribute, String> v = new EnumMap<>(Attribute.class);
        v.put(Attribute.PROTOCOL, Protocol.IKEV2.word());
        List<String> hosts = c.list("", "remote_addrs");
        put(v, Attribute.REACH, c.reach());
        boolean eap = c.says("local", "auth").filter(a -> a.startsWith("eap")).isPresent();
        v.put(Attribute.CLIENT_CERTIFICATE, eap ? "no" : "yes");
        v.put(Attribute.ACCOUNTS, eap ? "local" : "none");
        c.says("remote", "id")
                .map(id -> id.replaceFirst("^@", ""))
                .ifPresent(id -> put(v, Attribute.SERVER_NAMES, List.of(id)));
        List<Protocol.PortSpec> ports = Protocol.IKEV2.fixedPorts();
        return new CalledListener(
                hosts.stream()
                        .flatMap(h -> host(h).stream())
                        .map(h -> new Endpoint(
                                h, ports.get(0).port(), ports.get(0).transport()))
                        .toList(),
                List.of(ports.get(0)),
                authority(file),
                Optional.empty(),
                Optional.empty(),
                v);
    }

    private static Optional<Host> host(String text) {
        try {
            return Optional.of(Host.parse(text));
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }

    private static List<Cidr> reach(boolean full4, boolean full6, List<Cidr> networks) {
        List<Cidr> out = new ArrayList<>();
        if (full4) {
            out.add(Cidr.EVERYTHING_V4);
        }
        if (full6) {
            out.add(Cidr.EVERYTHING_V6);
        }
        networks.stream().filter(n -> !out.contains(n)).forEach(out::add);
        return out;
    }

    /** Leaves out what is no value of the setting: a file may say anything. */
    private static void put(Map<Attribute, String> values, Attribute attribute, List<?> items) {
        String text = items.stream().map(Object::toString).distinct().collect(Collectors.joining(", "));
        if (text.isEmpty()) {
            return;
        }
        try {
            attribute.check(text);
            values.put(attribute, text);
        } catch (MalformedException e) {
            values.remove(attribute);
        }
    }

    /** {@code openvpn tcp 443}, for names. */
    static String word(Protocol.PortSpec port) {
        return port.toString().toLowerCase(Locale.ROOT).replace(' ', '-');
    }
}
