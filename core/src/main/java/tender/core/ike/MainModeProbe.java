package tender.core.ike;

import java.nio.ByteBuffer;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import tender.core.wire.ByteCursor;
import tender.core.wire.MalformedException;

/**
 * The first message of IKE version 1 in main mode (RFC 2408, RFC 2409 §5), to learn whether a listener for L2TP/IPsec is
 * there. It offers what built-in clients offer; nothing secret is said, and the exchange goes no further.
 */
public final class MainModeProbe {
    private static final int VERSION_1 = 0x10;
    private static final int MAIN_MODE = 2;
    private static final int INFORMATIONAL = 5;
    private static final int SA = 1;
    private static final int PROPOSAL = 2;
    private static final int TRANSFORM = 3;
    private static final int NOTIFICATION = 11;
    private static final int NO_PROPOSAL_CHOSEN = 14;
    private static final int HEADER = 28;
    private static final int MAX_PAYLOADS = 16;
    private static final int LIFE_SECONDS = 28_800;

    private static final int CIPHER = 1;
    private static final int HASH = 2;
    private static final int PROOF = 3;
    private static final int GROUP = 4;
    private static final int KEY_LENGTH = 14;

    /** A set of algorithms by the numbers of RFC 2409, appendix A. */
    private record Suite(int cipher, int keyBits, int hash, int group, int proof, String words) {}

    private static final List<Suite> OFFERED = offered();

    private final byte[] cookie;

    public MainModeProbe(SecureRandom random) {
        this.cookie = Bytes.random(random, 8);
    }

    private static List<Suite> offered() {
        List<Suite> out = new ArrayList<>();
        for (int proof : new int[] {1, 3}) {
            String by = proof == 1 ? "shared secret" : "RSA signature";
            out.add(new Suite(7, 256, 4, 14, proof, "AES-256, SHA-256, group 14, " + by));
            out.add(new Suite(7, 256, 2, 14, proof, "AES-256, SHA-1, group 14, " + by));
            out.add(new Suite(7, 128, 2, 14, proof, "AES-128, SHA-1, group 14, " + by));
            out.add(new Suite(5, 0, 2, 14, proof, "3DES, SHA-1, group 14, " + by));
            out.add(new Suite(7, 256, 2, 2, proof, "AES-256, SHA-1, group 2, " + by));
            out.add(new Suite(7, 128, 2, 2, proof, "AES-128, SHA-1, group 2, " + by));
            out.add(new Suite(5, 0, 2, 2, proof, "3DES, SHA-1, group 2, " + by));
        }
        return List.copyOf(out);
    }

    /** What is sent; the same each time, so that it may be sent again. */
    public byte[] request() {
        List<byte[]> transforms = new ArrayList<>();
        for (int i = 0; i < OFFERED.size(); i++) {
            transforms.add(transform(OFFERED.get(i), i + 1, i + 1 == OFFERED.size()));
        }
        byte[] all = Bytes.join(transforms.toArray(byte[][]::new));
        byte[] proposal = ByteBuffer.allocate(8 + all.length)
                .put(new byte[] {0, 0})
                .putShort((short) (8 + all.length))
                .put(new byte[] {1, 1, 0, (byte) OFFERED.size()})
                .put(all)
                .array();
        int length = 12 + proposal.length;
        return ByteBuffer.allocate(HEADER + length)
                .put(cookie)
                .putLong(0)
                .put(new byte[] {SA, VERSION_1, MAIN_MODE, 0})
                .putInt(0)
                .putInt(HEADER + length)
                .putShort((short) 0)
                .putShort((short) length)
                .putInt(1) // the domain of IPsec (RFC 2407)
                .putInt(1) // identities alone are looked at
                .put(proposal)
                .array();
    }

    private static byte[] transform(Suite s, int number, boolean last) {
        ByteBuffer out = ByteBuffer.allocate(64);
        out.put(new byte[] {(byte) (last ? 0 : TRANSFORM), 0, 0, 0, (byte) number, 1, 0, 0});
        attribute(out, CIPHER, s.cipher());
        if (s.keyBits() > 0) {
            attribute(out, KEY_LENGTH, s.keyBits());
        }
        attribute(out, HASH, s.hash());
        attribute(out, GROUP, s.group());
        attribute(out, PROOF, s.proof());
        attribute(out, 11, 1); // a life in seconds
        attribute(out, 12, LIFE_SECONDS);
        out.putShort(2, (short) out.position());
        return Arrays.copyOf(out.array(), out.position());
    }

    private static void attribute(ByteBuffer out, int type, int value) {
        out.putShort((short) (0x8000 | type)).putShort((short) value);
    }

    /**
     * What an answer says.
     *
     * @param taken the algorithms that the listener took; empty where it takes none of those offered
     */
    public record Answer(Optional<String> taken) {}

    /** Reads a packet; empty where it is no answer to this probe. */
    public Optional<Answer> read(byte[] packet) {
        try {
            ByteCursor in = new ByteCursor(packet);
            if (!Arrays.equals(in.bytes(8), cookie)) {
                return Optional.empty();
            }
            in.bytes(8);
            int next = in.u8();
            int version = in.u8();
            int exchange = in.u8();
            in.bytes(1 + 4 + 4);
            if (version >> 4 != 1 || exchange != MAIN_MODE && exchange != INFORMATIONAL) {
                return Optional.empty();
            }
            for (int i = 0; next != 0 && i < MAX_PAYLOADS; i++) {
                int after = in.u8();
                in.bytes(1);
                byte[] body = in.bytes(in.u16() - 4);
                if (next == SA) {
                    return Optional.of(new Answer(Optional.of(taken(body))));
                }
                if (next == NOTIFICATION) {
                    return notification(body);
                }
                next = after;
            }
            return Optional.empty();
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }

    private static Optional<Answer> notification(byte[] body) {
        ByteCursor in = new ByteCursor(body);
        in.bytes(6);
        return in.u16() == NO_PROPOSAL_CHOSEN ? Optional.of(new Answer(Optional.empty())) : Optional.empty();
    }

    /** The words of the suite that came back, told by its attributes: its number is the server's own. */
    private static String taken(byte[] body) {
        ByteCursor in = new ByteCursor(body);
        in.bytes(8 + 4); // domain, situation, the proposal's head
        in.bytes(2);
        int spi = in.u8();
        in.bytes(1 + spi);
        in.bytes(8);
        int cipher = 0;
        int bits = 0;
        int hash = 0;
        int group = 0;
        int proof = 0;
        while (in.remaining() >= 4) {
            int type = in.u16();
            int value = in.u16();
            if (type >>> 15 == 0) {
                in.bytes(value); // a long one, such as a life
                continue;
            }
            switch (type & 0x7fff) {
                case CIPHER -> cipher = value;
                case KEY_LENGTH -> bits = value;
                case HASH -> hash = value;
                case GROUP -> group = value;
                case PROOF -> proof = value;
                default -> {} // lives
            }
        }
        for (Suite s : OFFERED) {
            boolean same = s.cipher() == cipher
                    && s.keyBits() == bits
                    && s.hash() == hash
                    && s.group() == group
                    && s.proof() == proof;
            if (same) {
                return s.words();
            }
        }
        throw new MalformedException("proposal", "", "it took what was not offered");
    }
}
