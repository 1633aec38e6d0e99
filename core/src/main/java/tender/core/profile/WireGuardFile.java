package tender.core.profile;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.Consumer;
import java.util.regex.Pattern;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.InterfaceAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;

/**
 * A WireGuard configuration file as wg(8) and wg-quick(8) document it, for either end of a tunnel.
 *
 * <p>Every line is kept as it came, with its own line ending, so that {@link #text()} gives back exactly what was read.
 * Reading never fails on a bad line: the value is left out of the model and a {@link ParseProblem} names the line. Only a
 * file beyond the limits is refused whole. Directives that run programs (PostUp and its kin) are shown by
 * {@link #commands()} and never run.
 */
public final class WireGuardFile {
    public static final int MAX_CHARACTERS = 4 * 1024 * 1024;
    public static final int MAX_LINES = 100_000;
    public static final int MAX_PEERS = 8_192;
    private static final int MAX_LINE = 8_192;
    private static final int MAX_NETWORKS = 1_024;

    /** The file's own end. */
    public record Interface(
            int line,
            Optional<Secret> privateKey,
            List<InterfaceAddress> addresses,
            Optional<Port> listenPort,
            List<Host> dns,
            OptionalInt mtu) {}

    /** One peer; {@code line} is its header's, {@code end} the line after its last. */
    public record Peer(
            int line,
            int end,
            Optional<TunnelKey> publicKey,
            Optional<Secret> presharedKey,
            Optional<Endpoint> endpoint,
            List<InterfaceAddress> allowed,
            OptionalInt keepAliveSeconds) {
        /** Whether what this peer may send from, or is sent to, includes an address. */
        public boolean allows(tender.core.network.IpAddress address) {
            return allowed.stream().anyMatch(network -> network.network().contains(address));
        }
    }

    /** What came out of reading: the model and what is wrong with it. */
    public record Reading(WireGuardFile file, List<ParseProblem> problems) {
        public Reading {
            problems = List.copyOf(problems);
        }
    }

    private static final Pattern SECTION = Pattern.compile("(?im)^[ \\t]*\\[(interface|peer)][ \\t]*(#.*)?\\r?$");

    private final String text;
    private final Optional<Interface> own;
    private final List<Peer> peers;
    private final List<String> commands;
    private final List<String> elsewhere;

    private WireGuardFile(
            String text, Optional<Interface> own, List<Peer> peers, List<String> commands, List<String> elsewhere) {
        this.text = text;
        this.own = own;
        this.peers = List.copyOf(peers);
        this.commands = List.copyOf(commands);
        this.elsewhere = List.copyOf(elsewhere);
    }

    /** Whether a text has a section as such a file has. */
    public static boolean looksLike(String text) {
        return SECTION.matcher(text).find();
    }

    /** The file, byte for byte as it was read or as it was changed. */
    public String text() {
        return text;
    }

    public Optional<Interface> own() {
        return own;
    }

    public List<Peer> peers() {
        return peers;
    }

    public Optional<Peer> peer(TunnelKey key) {
        return peers.stream()
                .filter(p -> p.publicKey().filter(key::equals).isPresent())
                .findFirst();
    }

    /** The lines that would run programs, as {@code line N: Directive}. */
    public List<String> commands() {
        return commands;
    }

    /** The lines by which the system's own table of routes does not get the networks of the peers, in words. */
    public List<String> routesElsewhere() {
        return elsewhere;
    }

    public static Reading read(String text) {
        return new Reader().read(text);
    }

    /** The same file with a peer added at its end, in the file's own line ending. */
    public WireGuardFile withPeer(String section) {
        String ending = text.contains("\r\n") ? "\r\n" : "\n";
        String before = text.isEmpty() || text.endsWith("\n") ? text : text + ending;
        return read(before + ending + section.replace("\n", ending)).file();
    }

    /** The same file without a peer's section; comments right above the next header stay with that header. */
    /** A setting of the file's own [Interface] replaced where it stands, else added under the heading; all else stays. */
    public WireGuardFile withOwn(String key, String value) {
        List<String> lines = split(text);
        int heading = -1;
        for (int i = 0; i < lines.size(); i++) {
            String line = lines.get(i).strip();
            if (line.startsWith("[")) {
                if (heading >= 0) {
                    break;
                }
                heading = line.equalsIgnoreCase("[Interface]") ? i : -1;
            } else if (heading >= 0) {
                int equals = line.indexOf('=');
                if (equals > 0 && line.substring(0, equals).strip().equalsIgnoreCase(key)) {
                    lines.set(i, key + " = " + value + ending(lines.get(i)));
                    return read(String.join("", lines)).file();
                }
            }
        }
        lines.add(heading + 1, key + " = " + value + "\n");
        return read(String.join("", lines)).file();
    }

    private static String ending(String line) {
        return line.endsWith("\r\n") ? "\r\n" : line.endsWith("\n") ? "\n" : "";
    }

    public WireGuardFile withoutPeer(TunnelKey key) {
        Optional<Peer> found = peer(key);
        if (found.isEmpty()) {
            return this;
        }
        List<String> lines = split(text);
        int from = found.get().line() - 1;
        int end = found.get().end() - 1;
        while (end < lines.size()
                && end > from + 1
                && lines.get(end - 1).strip().startsWith("#")) {
            end--;
        }
        if (end >= lines.size() && from > 0 && lines.get(from - 1).isBlank()) {
            from--;
        }
        List<String> kept = new ArrayList<>(lines.subList(0, from));
        kept.addAll(lines.subList(end, lines.size()));
        return read(String.join("", kept)).file();
    }

    /** Lines with their endings. */
    private static List<String> split(String text) {
        List<String> lines = new ArrayList<>();
        int from = 0;
        while (from < text.length()) {
            int end = text.indexOf('\n', from);
            end = end < 0 ? text.length() : end + 1;
            lines.add(text.substring(from, end));
            from = end;
        }
        return lines;
    }

    /** One pass over the lines; a section's values are gathered until the next header closes it. */
    private static final class Reader {
        private final List<ParseProblem> problems = new ArrayList<>();
        private final List<Peer> peers = new ArrayList<>();
        private final List<String> commands = new ArrayList<>();
        private final List<String> elsewhere = new ArrayList<>();
        private Optional<Interface> own = Optional.empty();
        private Section section;

        private static final class Section {
            private final boolean peer;
            private final int line;
            private Optional<Secret> secret = Optional.empty();
            private Optional<TunnelKey> publicKey = Optional.empty();
            private Optional<Endpoint> endpoint = Optional.empty();
            private Optional<Port> port = Optional.empty();
            private OptionalInt number = OptionalInt.empty();
            private final List<InterfaceAddress> networks = new ArrayList<>();
            private final List<Host> dns = new ArrayList<>();

            private Section(boolean peer, int line) {
                this.peer = peer;
                this.line = line;
            }
        }

        private Reading read(String text) {
            if (text.length() > MAX_CHARACTERS) {
                throw new MalformedException("too-large", "", "a configuration file has at most 4 MiB");
            }
            List<String> lines = split(text);
            if (lines.size() > MAX_LINES) {
                throw new MalformedException("too-many", "line " + (MAX_LINES + 1), "more than 100,000 lines");
            }
            for (int i = 0; i < lines.size(); i++) {
                line(i + 1, lines.get(i));
            }
            close(lines.size() + 1);
            if (own.isEmpty()) {
                problems.add(new ParseProblem(1, "no-interface", "there is no [Interface] section"));
            }
            return new Reading(new WireGuardFile(text, own, peers, commands, elsewhere), problems);
        }

        private void line(int number, String raw) {
            if (raw.length() > MAX_LINE) {
                problems.add(new ParseProblem(number, "too-long", "longer than 8,192 characters; not read"));
                return;
            }
            int comment = raw.indexOf('#');
            String content = (comment < 0 ? raw : raw.substring(0, comment)).strip();
            if (content.isEmpty()) {
                return;
            }
            if (content.startsWith("[")) {
                close(number);
                header(number, content);
                return;
            }
            int equals = content.indexOf('=');
            if (equals < 1) {
                problems.add(new ParseProblem(number, "no-value", "neither a [Section] nor KEY = VALUE"));
            } else if (section == null) {
                problems.add(new ParseProblem(number, "no-section", "a value before the first section"));
            } else {
                String key = content.substring(0, equals).strip();
                try {
                    value(number, key, content.substring(equals + 1).strip());
                } catch (MalformedException e) {
                    problems.add(new ParseProblem(number, e.code(), key(key) + ": " + e.what()));
                }
            }
        }

        /** A key is echoed only when it looks like one. */
        private static String key(String key) {
            return key.matches("[A-Za-z]{1,24}") ? key : "value";
        }

        private void header(int number, String content) {
            String name = content.toLowerCase(Locale.ROOT);
            if (name.equals("[interface]")) {
                section = new Section(false, number);
            } else if (name.equals("[peer]")) {
                if (peers.size() >= MAX_PEERS) {
                    throw new MalformedException("too-many", "line " + number, "more than 8,192 peers");
                }
                section = new Section(true, number);
            } else {
                problems.add(new ParseProblem(number, "unknown-section", "a section is [Interface] or [Peer]"));
            }
        }

        private void close(int end) {
            if (section == null) {
                return;
            }
            Section s = section;
            section = null;
            if (s.peer) {
                if (s.publicKey.isEmpty()) {
                    problems.add(new ParseProblem(s.line, "no-public-key", "the peer has no PublicKey"));
                }
                peers.add(new Peer(s.line, end, s.publicKey, s.secret, s.endpoint, List.copyOf(s.networks), s.number));
            } else if (own.isPresent()) {
                problems.add(new ParseProblem(s.line, "two-interfaces", "there is a second [Interface] section"));
            } else {
                own = Optional.of(
                        new Interface(s.line, s.secret, List.copyOf(s.networks), s.port, List.copyOf(s.dns), s.number));
            }
        }

        private void value(int number, String key, String value) {
            String name = (section.peer ? "peer." : "interface.") + key.toLowerCase(Locale.ROOT);
            switch (name) {
                case "interface.privatekey", "peer.presharedkey" ->
                    section.secret = Optional.of(Secret.of(TunnelKey.decode(value)));
                case "interface.address" -> each(value, part -> network(InterfaceAddress.parse(part)));
                case "interface.listenport" -> section.port = Optional.of(Port.parse(value));
                case "interface.dns" -> each(value, part -> section.dns.add(Host.parse(part)));
                case "interface.mtu" -> section.number = OptionalInt.of(number(value, 576, 65_535));
                case "peer.publickey" -> section.publicKey = Optional.of(TunnelKey.parse(value));
                case "peer.endpoint" -> section.endpoint = Optional.of(Endpoint.parse(value, Transport.UDP));
                case "peer.allowedips" -> each(value, part -> network(InterfaceAddress.parse(part)));
                case "peer.persistentkeepalive" ->
                    section.number =
                            value.equals("off") ? OptionalInt.empty() : OptionalInt.of(number(value, 0, 65_535));
                case "interface.preup", "interface.postup", "interface.predown", "interface.postdown" ->
                    commands.add("line " + number + ": " + key);
                case "interface.table" -> {
                    if (!value.equals("auto")) {
                        elsewhere.add("Table (line " + number + ")");
                    }
                }
                case "interface.saveconfig", "interface.fwmark" -> {
                    // known, and of no consequence for what Tender works out
                }
                default ->
                    problems.add(new ParseProblem(
                            number, "unknown-key", key(key) + " is not a known key here; kept as it is"));
            }
        }

        private void network(InterfaceAddress address) {
            if (section.networks.size() >= MAX_NETWORKS) {
                throw new MalformedException("too-many", "", "more than 1,024 networks");
            }
            section.networks.add(address);
        }

        private static void each(String list, Consumer<String> part) {
            for (String one : list.split(",")) {
                if (!one.isBlank()) {
                    part.accept(one.strip());
                }
            }
        }

        private static int number(String text, int min, int max) {
            if (!text.matches("[0-9]{1,5}") || Integer.parseInt(text) < min || Integer.parseInt(text) > max) {
                throw new MalformedException(
                        "number", "", "a whole number from " + min + " to " + max + " is expected");
            }
            return Integer.parseInt(text);
        }
    }
}
