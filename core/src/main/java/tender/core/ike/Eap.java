package tender.core.ike;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.Optional;
import tender.core.wire.ByteCursor;
import tender.core.wire.MalformedException;

/** A caller's side of EAP (RFC 3748) by name and password, MSCHAPv2 inside. */
final class Eap {
    static final int REQUEST = 1;
    static final int RESPONSE = 2;
    static final int SUCCESS = 3;
    static final int FAILURE = 4;
    static final int IDENTITY = 1;
    static final int NAK = 3;
    static final int MSCHAPV2 = 26;
    static final int CHALLENGE = 1;
    static final int ANSWER = 2;
    static final int ACCEPTED = 3;
    static final int REFUSED = 4;

    private final String user;
    private final String password;
    private final SecureRandom random;
    private Optional<MsChap> exchange = Optional.empty();
    private Optional<String> refused = Optional.empty();
    private boolean done;

    Eap(String user, String password, SecureRandom random) {
        this.user = user;
        this.password = password;
        this.random = random;
    }

    static byte[] packet(int code, int id, byte[] rest) {
        return Bytes.join(
                ByteBuffer.allocate(4)
                        .put((byte) code)
                        .put((byte) id)
                        .putShort((short) (4 + rest.length))
                        .array(),
                rest);
    }

    /** Type 26 with its own header. */
    static byte[] mschap(int opcode, int id, byte[] rest) {
        return Bytes.join(
                ByteBuffer.allocate(5)
                        .put((byte) MSCHAPV2)
                        .put((byte) opcode)
                        .put((byte) id)
                        .putShort((short) (4 + rest.length))
                        .array(),
                rest);
    }

    /** Why the server does not let in; with its own words where it has any. */
    Optional<String> refused() {
        return refused;
    }

    boolean isDone() {
        return done;
    }

    /** The key that proves both sides afterwards. */
    byte[] key() {
        return exchange.orElseThrow(() -> new MalformedException("eap", "", "the server ended it before it began"))
                .key();
    }

    /** The answer to a packet; empty where none is due. */
    Optional<byte[]> onPacket(byte[] packet) {
        ByteCursor in = new ByteCursor(packet);
        int code = in.u8();
        int id = in.u8();
        in.skip(2);
        if (code == SUCCESS) {
            done = exchange.isPresent();
            return Optional.empty();
        }
        if (code == FAILURE) {
            refused = refused.or(() -> Optional.of("EAP failure"));
            return Optional.empty();
        }
        if (code != REQUEST) {
            return Optional.empty();
        }
        int type = in.u8();
        if (type == IDENTITY) {
            return Optional.of(
                    packet(RESPONSE, id, Bytes.join(new byte[] {IDENTITY}, user.getBytes(StandardCharsets.UTF_8))));
        }
        if (type != MSCHAPV2) {
            refused = Optional.of("EAP method " + type + " is wanted");
            return Optional.of(packet(RESPONSE, id, new byte[] {NAK, MSCHAPV2}));
        }
        return Optional.of(packet(RESPONSE, id, onMschap(in)));
    }

    private byte[] onMschap(ByteCursor in) {
        int opcode = in.u8();
        int id = in.u8();
        in.skip(2);
        switch (opcode) {
            case CHALLENGE -> {
                byte[] server = in.bytes(in.u8());
                if (server.length != 16) {
                    throw new MalformedException("eap", "", "the challenge has another length");
                }
                byte[] peer = Bytes.random(random, 16);
                refused = Optional.empty();
                MsChap now = new MsChap(user, password, server, peer);
                exchange = Optional.of(now);
                return mschap(
                        ANSWER,
                        id,
                        Bytes.join(
                                new byte[] {49},
                                peer,
                                new byte[8],
                                now.response(),
                                new byte[1],
                                user.getBytes(StandardCharsets.UTF_8)));
            }
            case ACCEPTED -> {
                String text = new String(in.rest(), StandardCharsets.ISO_8859_1);
                boolean knows =
                        exchange.filter(e -> text.startsWith(e.authenticator())).isPresent();
                if (!knows) {
                    refused = Optional.of("the server does not know the password itself");
                }
                return new byte[] {MSCHAPV2, ACCEPTED};
            }
            case REFUSED -> {
                String text = new String(in.rest(), StandardCharsets.ISO_8859_1).replaceAll("\\p{Cntrl}", "?");
                refused = Optional.of("EAP: " + text.substring(0, Math.min(100, text.length())));
                return new byte[] {MSCHAPV2, REFUSED};
            }
            default -> throw new MalformedException("eap", "", "an unknown step");
        }
    }
}
