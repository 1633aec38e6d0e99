package tender.core.openvpn;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * What stands around each packet of the data channel where compression was spoken of. Nothing is compressed here; what the
 * other side compressed is dropped.
 */
public enum Framing {
    NONE,
    /** A byte before the packet: {@code comp-lzo}. */
    PREFIX,
    /** A byte in place of the packet's first, which stands at its end: {@code compress}, {@code compress lz4}. */
    SWAP,
    /** Only packets that begin like a mark are marked: {@code compress stub-v2}. */
    ESCAPE;

    private static final byte PLAIN_PREFIX = (byte) 0xfa;
    private static final byte PLAIN_SWAP = (byte) 0xfb;
    private static final byte MARK = 0x50;

    /** By the words of a directive; empty where it speaks of something else. */
    static Optional<Framing> of(List<String> words) {
        String algorithm = words.size() > 1 ? words.get(1) : "";
        return switch (words.get(0)) {
            case "comp-lzo" -> Optional.of(PREFIX);
            case "compress" ->
                Optional.of(
                        switch (algorithm) {
                            case "lzo" -> PREFIX;
                            case "stub-v2", "lz4-v2" -> ESCAPE;
                            case "migrate" -> NONE;
                            default -> SWAP;
                        });
            default -> Optional.empty();
        };
    }

    byte[] around(byte[] packet) {
        return switch (this) {
            case NONE -> packet;
            case PREFIX -> ControlChannelProtection.join(new byte[] {PLAIN_PREFIX}, packet);
            case SWAP -> {
                byte[] out = Arrays.copyOf(packet, packet.length + 1);
                out[packet.length] = packet[0];
                out[0] = PLAIN_SWAP;
                yield out;
            }
            case ESCAPE -> packet[0] == MARK ? ControlChannelProtection.join(new byte[] {MARK, 0}, packet) : packet;
        };
    }

    /** The packet inside; empty where it is compressed or no packet. */
    Optional<byte[]> inside(byte[] framed) {
        if (framed.length < 2) {
            return Optional.empty();
        }
        return switch (this) {
            case NONE -> Optional.of(framed);
            case PREFIX ->
                framed[0] == PLAIN_PREFIX
                        ? Optional.of(Arrays.copyOfRange(framed, 1, framed.length))
                        : Optional.empty();
            case SWAP -> {
                if (framed[0] != PLAIN_SWAP) {
                    yield Optional.empty();
                }
                byte[] out = Arrays.copyOf(framed, framed.length - 1);
                out[0] = framed[framed.length - 1];
                yield Optional.of(out);
            }
            case ESCAPE -> {
                if (framed[0] != MARK) {
                    yield Optional.of(framed);
                }
                yield framed[1] == 0 ? Optional.of(Arrays.copyOfRange(framed, 2, framed.length)) : Optional.empty();
            }
        };
    }
}
