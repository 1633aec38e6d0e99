package tender.core.wireguard;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.network.InterfaceAddress;
import tender.core.wire.MalformedException;

/**
 * The tab-separated dump that WireGuard's tools print for all interfaces (wg(8), "show … dump"): what is active on a
 * device now, as opposed to what is written in its files.
 */
public record StatusDump(List<Interface> interfaces) {
    private static final int MAX_LINES = 20_000;
    private static final int INTERFACE_FIELDS = 5;
    private static final int PEER_FIELDS = 9;

    /** An interface active. Its private key is not kept; only the public one. */
    public record Interface(String name, Optional<TunnelKey> publicKey, int listenPort, List<Peer> peers) {
        public Interface {
            peers = List.copyOf(peers);
        }
    }

    /** A peer active; {@code lastHandshake} is empty when there was none, counters are bytes. */
    public record Peer(
            TunnelKey publicKey,
            Optional<Secret> presharedKey,
            Optional<String> endpoint,
            List<InterfaceAddress> allowed,
            Optional<Instant> lastHandshake,
            long received,
            long sent) {
        public Peer {
            allowed = List.copyOf(allowed);
        }
    }

    public StatusDump {
        interfaces = List.copyOf(interfaces);
    }

    public static StatusDump parse(String text) {
        String[] lines = text.split("\n", -1);
        if (lines.length > MAX_LINES) {
            throw new MalformedException("too-many", "line " + MAX_LINES, "more lines than a device can have peers");
        }
        List<List<Peer>> peers = new ArrayList<>();
        List<Interface> heads = new ArrayList<>();
        for (int i = 0; i < lines.length; i++) {
            if (lines[i].isEmpty()) {
                continue;
            }
            String[] fields = lines[i].split("\t", -1);
            try {
                if (fields.length == INTERFACE_FIELDS) {
                    heads.add(new Interface(fields[0], key(fields[2]), Integer.parseInt(fields[3]), List.of()));
                    peers.add(new ArrayList<>());
                } else if (fields.length == PEER_FIELDS && !heads.isEmpty()) {
                    peers.get(peers.size() - 1).add(peer(fields));
                } else {
                    throw new MalformedException("dump", "", "neither an interface line nor a peer line");
                }
            } catch (NumberFormatException e) {
                throw new MalformedException("dump", "line " + (i + 1), "a number is expected");
            } catch (MalformedException e) {
                throw e.at("line " + (i + 1));
            }
        }
        List<Interface> out = new ArrayList<>();
        for (int i = 0; i < heads.size(); i++) {
            Interface head = heads.get(i);
            out.add(new Interface(head.name(), head.publicKey(), head.listenPort(), peers.get(i)));
        }
        return new StatusDump(out);
    }

    private static Peer peer(String[] fields) {
        long handshake = Long.parseLong(fields[5]);
        List<InterfaceAddress> allowed = new ArrayList<>();
        if (!fields[4].equals("(none)")) {
            for (String network : fields[4].split(",")) {
                allowed.add(InterfaceAddress.parse(network));
            }
        }
        return new Peer(
                TunnelKey.parse(fields[1]),
                fields[2].equals("(none)") ? Optional.empty() : Optional.of(Secret.of(TunnelKey.decode(fields[2]))),
                fields[3].equals("(none)") ? Optional.empty() : Optional.of(fields[3]),
                allowed,
                handshake == 0 ? Optional.empty() : Optional.of(Instant.ofEpochSecond(handshake)),
                Long.parseLong(fields[6]),
                Long.parseLong(fields[7]));
    }

    private static Optional<TunnelKey> key(String text) {
        return text.equals("(none)") ? Optional.empty() : Optional.of(TunnelKey.parse(text));
    }

    public Optional<Interface> named(String name) {
        return interfaces.stream().filter(i -> i.name().equals(name)).findFirst();
    }

    /** Prints the dump; private keys are written as {@code (none)}. */
    public String print() {
        StringBuilder out = new StringBuilder();
        for (Interface i : interfaces) {
            out.append(i.name())
                    .append("\t(none)\t")
                    .append(i.publicKey().map(TunnelKey::toString).orElse("(none)"))
                    .append('\t')
                    .append(i.listenPort())
                    .append("\toff\n");
            for (Peer p : i.peers()) {
                out.append(i.name())
                        .append('\t')
                        .append(p.publicKey())
                        .append('\t')
                        .append(p.presharedKey().map(StatusDump::text).orElse("(none)"))
                        .append('\t')
                        .append(p.endpoint().orElse("(none)"))
                        .append('\t')
                        .append(
                                p.allowed().isEmpty()
                                        ? "(none)"
                                        : p.allowed().stream()
                                                .map(InterfaceAddress::toString)
                                                .collect(Collectors.joining(",")))
                        .append('\t')
                        .append(p.lastHandshake().map(Instant::getEpochSecond).orElse(0L))
                        .append('\t')
                        .append(p.received())
                        .append('\t')
                        .append(p.sent())
                        .append("\toff\n");
            }
        }
        return out.toString();
    }

    private static String text(Secret key) {
        return java.util.Base64.getEncoder().encodeToString(key.reveal(RevealSecret.TO_WRITE_FILE));
    }
}
