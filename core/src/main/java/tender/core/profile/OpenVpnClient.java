package tender.core.profile;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.profile.OpenVpnFile.Directive;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;

/**
 * What an OpenVPN client file says, as OpenVPN's reference manual documents its options. Values that cannot be read are
 * left out and told as problems; {@link #file()} has every line.
 *
 * @param calls what is called, in order
 * @param server whether the file is a server's
 * @param full4 whether all IPv4 traffic goes through the tunnel
 * @param reach networks sent through the tunnel beside that
 * @param around networks kept out of the tunnel
 */
public record OpenVpnClient(
        OpenVpnFile file,
        boolean server,
        List<Call> calls,
        Optional<ControlChannelKey> controlChannelKey,
        Optional<Part> authority,
        Optional<Part> certificate,
        Optional<Part> key,
        Optional<Part> keyStore,
        boolean asksPassword,
        Optional<Directive> checksName,
        boolean checksRole,
        List<String> ciphers,
        String digest,
        Optional<String> tlsMinimum,
        boolean full4,
        boolean full6,
        List<Cidr> reach,
        List<Cidr> around,
        List<IpAddress> dns,
        Optional<Directive> proxy,
        List<ParseProblem> problems) {
    private static final Port DEFAULT_PORT = new Port(1194);
    private static final int MAX_CALLS = 64;
    private static final List<String> WEAK_CIPHERS =
            List.of("BF-", "CAST5", "RC2", "RC4", "DES", "3DES", "IDEA", "SEED");
    private static final Set<String> SERVER_WORDS = Set.of("server", "server-bridge", "mode", "tls-server", "dh");

    /** A place that is called; {@code host} is the text as written, which may be no host at all. */
    public record Call(String host, Port port, Transport transport, int line) {
        /** The endpoint, where the text is a host. */
        public Optional<Endpoint> endpoint() {
            try {
                return Optional.of(new Endpoint(Host.parse(host), port, transport));
            } catch (MalformedException e) {
                return Optional.empty();
            }
        }

        @Override
        public String toString() {
            return endpoint().map(Endpoint::toString).orElse(host + ":" + port) + " " + transport.word();
        }
    }

    /** Something that stands in the file, or that the file names. */
    public record Part(Optional<String> text, String name, int line) {
        public static Part of(Directive d) {
            return d.block().isPresent()
                    ? new Part(d.block(), "", d.line())
                    : new Part(Optional.empty(), d.word(0).orElse(""), d.line());
        }

        public boolean isInline() {
            return text.isPresent();
        }
    }

    /** The control channel's control-channel key: auth, crypt or crypt-v2. */
    public record ControlChannelKey(String kind, Part key, Optional<String> direction) {}

    /** Reads what a client's file says. What it cannot use stands in its problems, by line. */
    public static OpenVpnClient read(String text) {
        return of(OpenVpnFile.read(text));
    }

    public static OpenVpnClient of(OpenVpnFile.Reading reading) {
        return new Reader(reading.file(), reading.problems()).client();
    }

    /** Whether text has directives that OpenVPN's files alone have. */
    public static boolean looksLike(OpenVpnFile file) {
        Set<String> names = new java.util.HashSet<>();
        file.directives().forEach(d -> names.add(d.name()));
        boolean device = names.contains("dev") || names.contains("client") || names.contains("tls-client");
        boolean calls = names.contains("remote") || names.contains("server") || names.contains("connection");
        return device && (calls || names.contains("proto") || names.contains("ca") || names.contains("tls-server"))
                || calls && (names.contains("ca") || names.contains("cert") || names.contains("auth-user-pass"));
    }

    private static final class Reader {
        private final OpenVpnFile file;
        private final List<ParseProblem> problems;
        private final List<Call> calls = new ArrayList<>();
        private final List<Cidr> reach = new ArrayList<>();
        private final List<Cidr> around = new ArrayList<>();
        private final List<IpAddress> dns = new ArrayList<>();
        private Optional<Port> port = Optional.empty();
        private Transport transport = Transport.UDP;
        private boolean full4;
        private boolean full6;

        private Reader(OpenVpnFile file, List<ParseProblem> problems) {
            this.file = file;
            this.problems = new ArrayList<>(problems);
        }

        private OpenVpnClient client() {
            for (Directive d : file.directives()) {
                tried(d, () -> general(d));
            }
            for (Directive d : file.directives()) {
                if (d.name().equals("remote")) {
                    tried(d, () -> calls.add(call(d, port, transport)));
                } else if (d.name().equals("connection") && d.block().isPresent()) {
                    connection(d);
                }
            }
            return new OpenVpnClient(
                    file,
                    file.directives().stream().anyMatch(this::isServers),
                    calls.stream().limit(MAX_CALLS).toList(),
                    controlChannelKey(),
                    file.last("ca").map(Part::of),
                    file.last("cert").map(Part::of),
                    file.last("key").map(Part::of),
                    file.last("pkcs12").map(Part::of),
                    file.has("auth-user-pass"),
                    file.last("verify-x509-name").or(() -> file.last("tls-remote")),
                    file.last("remote-cert-tls")
                                    .filter(d ->
                                            d.word(0).filter("server"::equals).isPresent())
                                    .isPresent()
                            || file.has("ns-cert-type")
                            || file.has("remote-cert-ku")
                            || file.has("remote-cert-eku"),
                    ciphers(),
                    word("auth").orElse("SHA1"),
                    word("tls-version-min"),
                    full4,
                    full6,
                    List.copyOf(reach),
                    List.copyOf(around),
                    List.copyOf(dns),
                    file.last("http-proxy").or(() -> file.last("socks-proxy")),
                    List.copyOf(problems));
        }

        private boolean isServers(Directive d) {
            return SERVER_WORDS.contains(d.name())
                    && !(d.name().equals("mode")
                            && d.word(0).filter("p2p"::equals).isPresent());
        }

        private void tried(Directive d, Runnable read) {
            try {
                read.run();
            } catch (MalformedException e) {
                problems.add(new ParseProblem(d.line(), d.name(), d.name() + ": " + e.what()));
            }
        }

        private void general(Directive d) {
            switch (d.name()) {
                case "port", "rport" ->
                    port = Optional.of(Port.ofNumberOrService(d.word(0).orElse("")));
                case "proto" -> transport = transport(d.word(0).orElse(""));
                case "route" -> route(d);
                case "route-ipv6" -> network(d, Cidr.parse(masked(d.word(0).orElse(""))));
                case "redirect-gateway", "redirect-private" -> redirect(d);
                case "dhcp-option", "dns" -> names(d);
                default -> {}
            }
        }

        private static String masked(String text) {
            Cidr network = Cidr.of(IpAddress.parse(text.replaceAll("/.*", "")), prefix(text));
            return network.toString();
        }

        private static int prefix(String text) {
            int slash = text.indexOf('/');
            String number = slash < 0 ? "128" : text.substring(slash + 1);
            if (!number.matches("[0-9]{1,3}") || Integer.parseInt(number) > 128) {
                throw new MalformedException("route", "", "is written ADDRESS/LENGTH");
            }
            return Integer.parseInt(number);
        }

        private void route(Directive d) {
            String target = d.word(0).orElse("");
            if (target.equals("remote_host") || target.equals("vpn_gateway") || target.equals("net_gateway")) {
                return;
            }
            int length = d.word(1)
                    .filter(m -> !m.equals("default"))
                    .map(Reader::length)
                    .orElse(32);
            network(d, Cidr.of(IpAddress.parse(target), length));
        }

        /** The length of a mask such as 255.255.255.0. */
        private static int length(String mask) {
            long bits = IpAddress.parse(mask).low();
            int length = Long.bitCount(bits);
            if (bits != (length == 0 ? 0 : (0xffffffffL << (32 - length)) & 0xffffffffL)) {
                throw new MalformedException("route", "", "the mask has holes");
            }
            return length;
        }

        private void network(Directive d, Cidr network) {
            boolean out = d.words().stream().anyMatch("net_gateway"::equals);
            if (network.equals(Cidr.EVERYTHING_V4)) {
                full4 = !out;
            } else if (network.equals(Cidr.EVERYTHING_V6)) {
                full6 = !out;
            } else {
                (out ? around : reach).add(network);
            }
        }

        private void redirect(Directive d) {
            if (d.name().equals("redirect-private")) {
                return;
            }
            full4 |= !d.words().contains("!ipv4");
            full6 |= d.words().contains("ipv6");
        }

        private void names(Directive d) {
            boolean old = d.name().equals("dhcp-option")
                    && d.word(0)
                            .filter(w -> w.toUpperCase(Locale.ROOT).startsWith("DNS"))
                            .isPresent();
            boolean fresh = d.name().equals("dns") && d.words().contains("address");
            for (String word :
                    d.words().subList(Math.min(1, d.words().size()), d.words().size())) {
                if ((old || fresh) && word.matches("[0-9a-fA-F.:]+") && word.matches(".*[.:].*")) {
                    dns.add(IpAddress.parse(word));
                }
            }
        }

        private static Transport transport(String word) {
            if (!word.matches("(udp|tcp)[46]?(-(client|server))?")) {
                throw new MalformedException("proto", "", "is udp or tcp, with 4 or 6 behind it");
            }
            return word.startsWith("tcp") ? Transport.TCP : Transport.UDP;
        }

        private static Call call(Directive d, Optional<Port> port, Transport transport) {
            return new Call(
                    d.word(0).orElseThrow(() -> new MalformedException("remote", "", "names no host")),
                    d.word(1).map(Port::ofNumberOrService).or(() -> port).orElse(DEFAULT_PORT),
                    d.word(2).map(Reader::transport).orElse(transport),
                    d.line());
        }

        private void connection(Directive block) {
            OpenVpnFile inner = OpenVpnFile.read(block.block().orElse("")).file();
            for (Directive d : inner.all("remote")) {
                tried(block, () -> {
                    Optional<Port> own =
                            inner.last("port").flatMap(p -> p.word(0)).map(Port::ofNumberOrService);
                    Transport by = inner.last("proto")
                            .flatMap(p -> p.word(0))
                            .map(Reader::transport)
                            .orElse(transport);
                    Call c = call(d, own.or(() -> port), by);
                    calls.add(new Call(c.host(), c.port(), c.transport(), block.line() + d.line()));
                });
            }
        }

        private Optional<ControlChannelKey> controlChannelKey() {
            for (String kind : List.of("tls-crypt-v2", "tls-crypt", "tls-auth")) {
                Optional<Directive> d = file.last(kind);
                if (d.isPresent()) {
                    Optional<String> direction = d.get().block().isPresent()
                            ? word("key-direction")
                            : d.get().word(1).or(() -> word("key-direction"));
                    return Optional.of(new ControlChannelKey(
                            kind.substring(4),
                            Part.of(d.get()),
                            kind.equals("tls-auth") ? direction : Optional.empty()));
                }
            }
            return Optional.empty();
        }

        private List<String> ciphers() {
            List<String> out = new ArrayList<>();
            word("data-ciphers").or(() -> word("ncp-ciphers")).ifPresent(list -> out.addAll(List.of(list.split(":"))));
            word("data-ciphers-fallback")
                    .or(() -> word("cipher"))
                    .filter(c -> !out.contains(c))
                    .ifPresent(out::add);
            return out;
        }

        private Optional<String> word(String name) {
            return file.last(name).flatMap(d -> d.word(0));
        }
    }

    /** Whether it has its client open keys that are locked in ways which current programs refuse. */
    public boolean opensOldLocks() {
        return OpenVpnLocks.opensOldOnes(file);
    }

    /** Those ciphers that clients of OpenVPN 2.6 take in data-ciphers; on another one they end. */
    public static List<String> taken(List<String> ciphers) {
        return ciphers.stream().filter(OpenVpnValues::isCipher).toList();
    }

    /** Whether a cipher, by its name, can be broken or locks nothing. */
    public static boolean isWeakCipher(String cipher) {
        String c = cipher.toUpperCase(Locale.ROOT);
        return c.equals("NONE") || WEAK_CIPHERS.stream().anyMatch(c::startsWith);
    }

    /** Lines that current releases of OpenVPN have another word for, or have given up. */
    public static Optional<String> successor(Directive d) {
        return switch (d.name()) {
            case "ns-cert-type" -> Optional.of("remote-cert-tls server");
            case "tls-remote" -> d.word(0).map(n -> "verify-x509-name " + n + " name");
            case "ncp-ciphers" -> d.word(0).map(c -> "data-ciphers " + c);
            case "comp-lzo",
                    "compress",
                    "keysize",
                    "ncp-disable",
                    "no-replay",
                    "no-iv",
                    "prng",
                    "tun-ipv6",
                    "client-cert-not-required",
                    "max-routes",
                    "link-mtu" -> Optional.of("");
            default -> Optional.empty();
        };
    }
}
