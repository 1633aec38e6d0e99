package tender.core.ike;

import java.nio.ByteBuffer;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Optional;
import tender.core.wire.ByteCursor;
import tender.core.wire.MalformedException;

/**
 * The other side of {@link MainModeProbe}: answers the first message of main mode (RFC 2409 §5) with the first set of
 * algorithms offered that is strong enough, or with a refusal. It keeps nothing and goes no further.
 */
public final class MainModeResponder {
    private static final int HEADER = 28;
    private static final int SA = 1;
    private static final int NOTIFICATION = 11;
    private static final int VERSION_1 = 0x10;
    private static final int MAIN_MODE = 2;
    private static final int INFORMATIONAL = 5;
    private static final int NO_PROPOSAL_CHOSEN = 14;
    private static final int GROUP = 4;
    private static final int MAX_TRANSFORMS = 64;

    private final SecureRandom random;
    private final int group;

    /** @param group the Diffie-Hellman group that is taken, by its number */
    public MainModeResponder(SecureRandom random, int group) {
        this.random = random;
        this.group = group;
    }

    /** What is sent back; empty where the packet is no first message. */
    public Optional<byte[]> answer(byte[] packet) {
        try {
            ByteCursor in = new ByteCursor(packet);
            byte[] caller = in.bytes(8);
            byte[] own = in.bytes(8);
            boolean first =
                    Arrays.equals(own, new byte[8]) && in.u8() == SA && in.u8() == VERSION_1 && in.u8() == MAIN_MODE;
            if (!first) {
                return Optional.empty();
            }
            in.bytes(1 + 4 + 4 + 4); // flags, message, length, the payload's head
            in.bytes(8); // domain and situation
            in.bytes(4);
            int proposal = in.u8();
            int protocol = in.u8();
            in.bytes(in.u8());
            return Optional.of(
                    chosen(in).map(t -> taken(caller, proposal, protocol, t)).orElseGet(() -> refused(caller)));
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }

    /** The first transform offered with the group that is wanted, its head included. */
    private Optional<byte[]> chosen(ByteCursor in) {
        int count = in.u8();
        for (int i = 0; i < Math.min(count, MAX_TRANSFORMS); i++) {
            in.bytes(2);
            int length = in.u16();
            byte[] body = in.bytes(length - 4);
            ByteCursor attributes = new ByteCursor(body);
            attributes.bytes(4);
            while (attributes.remaining() >= 4) {
                int type = attributes.u16();
                int value = attributes.u16();
                if (type >>> 15 == 0) {
                    attributes.bytes(value);
                } else if ((type & 0x7fff) == GROUP && value == group) {
                    return Optional.of(ByteBuffer.allocate(length)
                            .putShort((short) 0)
                            .putShort((short) length)
                            .put(body)
                            .array());
                }
            }
        }
        return Optional.empty();
    }

    private byte[] taken(byte[] caller, int proposal, int protocol, byte[] transform) {
        byte[] body = ByteBuffer.allocate(16 + transform.length)
                .putInt(1)
                .putInt(1)
                .putShort((short) 0)
                .putShort((short) (8 + transform.length))
                .put(new byte[] {(byte) proposal, (byte) protocol, 0, 1})
                .put(transform)
                .array();
        return message(caller, SA, MAIN_MODE, body);
    }

    private byte[] refused(byte[] caller) {
        byte[] body = ByteBuffer.allocate(8)
                .putInt(1)
                .put(new byte[] {1, 0})
                .putShort((short) NO_PROPOSAL_CHOSEN)
                .array();
        return message(caller, NOTIFICATION, INFORMATIONAL, body);
    }

    private byte[] message(byte[] caller, int payload, int exchange, byte[] body) {
        return ByteBuffer.allocate(HEADER + 4 + body.length)
                .put(caller)
                .put(Bytes.random(random, 8))
                .put(new byte[] {(byte) payload, VERSION_1, (byte) exchange, 0})
                .putInt(0)
                .putInt(HEADER + 4 + body.length)
                .putShort((short) 0)
                .putShort((short) (4 + body.length))
                .put(body)
                .array();
    }
}
