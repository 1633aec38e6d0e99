package tender.core.wireguard;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.Arrays;
import java.util.Optional;
import org.bouncycastle.crypto.InvalidCipherTextException;
import org.bouncycastle.crypto.modes.ChaCha20Poly1305;
import org.bouncycastle.crypto.params.AEADParameters;
import org.bouncycastle.crypto.params.KeyParameter;
import tender.core.credential.TunnelKey;

/**
 * Cookies that a peer under load hands out, so that only callers who hear it are worked for (WireGuard paper §5.3, §5.4.7;
 * sealed by XChaCha20-Poly1305 as draft-irtf-cfrg-xchacha-03 describes it).
 */
final class Cookies {
    static final Duration LIFE = Duration.ofSeconds(120);
    private static final byte[] LABEL = "cookie--".getBytes(StandardCharsets.US_ASCII);
    private static final int TAG_BITS = 128;
    private static final int NONCE_BYTES = 24;

    private Cookies() {}

    /** The cookie; empty where the reply is not this peer's, or answers another packet. */
    static Optional<byte[]> open(TunnelKey peer, Packets.CookieReply reply, byte[] mac1) {
        try {
            return Optional.of(aead(false, peer, reply.nonce(), reply.encryptedCookie(), mac1));
        } catch (InvalidCipherTextException e) {
            return Optional.empty();
        }
    }

    /** A reply to an initiation of which {@code mac1} is the first MAC. */
    static Packets.CookieReply seal(TunnelKey own, int receiver, byte[] cookie, byte[] mac1, SecureRandom random) {
        byte[] nonce = new byte[NONCE_BYTES];
        random.nextBytes(nonce);
        try {
            return new Packets.CookieReply(receiver, nonce, aead(true, own, nonce, cookie, mac1));
        } catch (InvalidCipherTextException e) {
            throw new IllegalStateException("sealing cannot fail on a tag", e);
        }
    }

    static void putMac2(byte[] packet, byte[] cookie) {
        int covered = packet.length - Packets.MAC_BYTES;
        System.arraycopy(mac2(packet, cookie), 0, packet, covered, Packets.MAC_BYTES);
    }

    static byte[] mac2(byte[] packet, byte[] cookie) {
        return NoiseState.mac(cookie, packet, packet.length - Packets.MAC_BYTES);
    }

    private static byte[] aead(boolean seal, TunnelKey key, byte[] nonce, byte[] in, byte[] additional)
            throws InvalidCipherTextException {
        byte[] derived = subkey(NoiseState.hash(LABEL, key.toBytes()), Arrays.copyOf(nonce, 16));
        byte[] rest = ByteBuffer.allocate(12).putInt(0).put(nonce, 16, 8).array();
        ChaCha20Poly1305 aead = new ChaCha20Poly1305();
        aead.init(seal, new AEADParameters(new KeyParameter(derived), TAG_BITS, rest, additional));
        byte[] out = new byte[aead.getOutputSize(in.length)];
        int done = aead.processBytes(in, 0, in.length, out, 0);
        aead.doFinal(out, done);
        return out;
    }

    /** HChaCha20 (§2.2). */
    static byte[] subkey(byte[] key, byte[] nonce) {
        ByteBuffer in = ByteBuffer.allocate(64).order(ByteOrder.LITTLE_ENDIAN);
        in.putInt(0x61707865).putInt(0x3320646e).putInt(0x79622d32).putInt(0x6b206574);
        in.put(key).put(nonce).flip();
        int[] x = new int[16];
        in.asIntBuffer().get(x);
        for (int round = 0; round < 10; round++) {
            for (int i = 0; i < 4; i++) {
                quarter(x, i, 4 + i, 8 + i, 12 + i);
            }
            for (int i = 0; i < 4; i++) {
                quarter(x, i, 4 + (i + 1) % 4, 8 + (i + 2) % 4, 12 + (i + 3) % 4);
            }
        }
        ByteBuffer out = ByteBuffer.allocate(32).order(ByteOrder.LITTLE_ENDIAN);
        for (int i : new int[] {0, 1, 2, 3, 12, 13, 14, 15}) {
            out.putInt(x[i]);
        }
        return out.array();
    }

    private static void quarter(int[] x, int a, int b, int c, int d) {
        x[a] += x[b];
        x[d] = Integer.rotateLeft(x[d] ^ x[a], 16);
        x[c] += x[d];
        x[b] = Integer.rotateLeft(x[b] ^ x[c], 12);
        x[a] += x[b];
        x[d] = Integer.rotateLeft(x[d] ^ x[a], 8);
        x[c] += x[d];
        x[b] = Integer.rotateLeft(x[b] ^ x[c], 7);
    }
}
