package tender.core.profile;

import java.nio.ByteBuffer;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import javax.crypto.Cipher;
import javax.crypto.Mac;
import javax.crypto.spec.IvParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;

/**
 * A control-channel key of each client's own (crypt-v2), as OpenVPN documents it in tls-crypt-v2.txt: 2048 bits, then the same and
 * the time of making, sealed by a key that the server alone has. The server keeps nothing for a client.
 */
public final class TlsCryptV2Key {
    private static final String SERVER = "OpenVPN tls-crypt-v2 server key";
    private static final String CLIENT = "OpenVPN tls-crypt-v2 client key";
    private static final int SERVER_BYTES = 128;
    private static final int CLIENT_BYTES = 256;
    private static final int CIPHER_BYTES = 32;
    private static final int MAC_AT = 64;
    private static final int TAG = 32;
    private static final int LENGTH = 2;
    /** Metadata that holds seconds since 1970. */
    private static final byte TIMESTAMP = 1;

    private TlsCryptV2Key() {}

    /** A server's key, in PEM. */
    public static Secret forServer(SecureRandom random) {
        byte[] key = new byte[SERVER_BYTES];
        random.nextBytes(key);
        return pem(SERVER, key);
    }

    /** Another client's key, in PEM; throws where the server's is none. */
    public static Secret forClient(Secret server, SecureRandom random, Instant now) {
        byte[] by = read(server.revealText(RevealSecret.TO_WRITE_FILE));
        byte[] key = new byte[CLIENT_BYTES];
        random.nextBytes(key);
        byte[] plain = ByteBuffer.allocate(CLIENT_BYTES + 1 + Long.BYTES)
                .put(key)
                .put(TIMESTAMP)
                .putLong(now.getEpochSecond())
                .array();
        byte[] length = ByteBuffer.allocate(LENGTH)
                .putShort((short) (TAG + plain.length + LENGTH))
                .array();
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(by, MAC_AT, CIPHER_BYTES, "HmacSHA256"));
            mac.update(length);
            byte[] tag = mac.doFinal(plain);
            Cipher cipher = Cipher.getInstance("AES/CTR/NoPadding");
            cipher.init(
                    Cipher.ENCRYPT_MODE,
                    new SecretKeySpec(by, 0, CIPHER_BYTES, "AES"),
                    new IvParameterSpec(Arrays.copyOf(tag, 16)));
            byte[] sealed = cipher.doFinal(plain);
            return pem(
                    CLIENT,
                    ByteBuffer.allocate(CLIENT_BYTES + TAG + sealed.length + LENGTH)
                            .put(key)
                            .put(tag)
                            .put(sealed)
                            .put(length)
                            .array());
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every Java has HMAC-SHA-256 and AES-CTR", e);
        }
    }

    private static Secret pem(String label, byte[] content) {
        return Secret.of("-----BEGIN " + label + "-----\n"
                + Base64.getMimeEncoder(64, new byte[] {'\n'}).encodeToString(content) + "\n-----END " + label
                + "-----\n");
    }

    private static byte[] read(String text) {
        String begin = "-----BEGIN " + SERVER + "-----";
        int from = text.indexOf(begin);
        int to = text.indexOf("-----END", Math.max(from, 0));
        if (from >= 0 && to > from) {
            try {
                byte[] key = Base64.getMimeDecoder().decode(text.substring(from + begin.length(), to));
                if (key.length == SERVER_BYTES) {
                    return key;
                }
            } catch (IllegalArgumentException e) {
                throw unreadable();
            }
        }
        throw unreadable();
    }

    private static MalformedException unreadable() {
        return new MalformedException(
                "control-channel key", "tls-crypt-v2", "the server's key is none that OpenVPN makes for crypt-v2");
    }
}
