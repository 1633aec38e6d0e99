package tender.core.ike;

import java.nio.ByteBuffer;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Optional;
import org.bouncycastle.crypto.InvalidCipherTextException;
import org.bouncycastle.crypto.engines.AESEngine;
import org.bouncycastle.crypto.modes.AEADCipher;
import org.bouncycastle.crypto.modes.CBCBlockCipher;
import org.bouncycastle.crypto.modes.CBCModeCipher;
import org.bouncycastle.crypto.modes.ChaCha20Poly1305;
import org.bouncycastle.crypto.modes.GCMBlockCipher;
import org.bouncycastle.crypto.params.AEADParameters;
import org.bouncycastle.crypto.params.KeyParameter;
import org.bouncycastle.crypto.params.ParametersWithIV;

/**
 * Seals and opens in one direction, for IKE (RFC 7296 §3.14, RFC 5282) and ESP (RFC 4303, RFC 4106, RFC 7634): a header that
 * is only authenticated, an initial value, the text with its padding, a tag.
 */
final class Sealer {
    private static final int AEAD_TAG = 16;
    private static final int AEAD_IV = 8;
    private static final int BLOCK = 16;

    private final Transform cipher;
    private final Optional<Transform> integrity;
    private final byte[] key;
    private final byte[] macKey;
    private final SecureRandom random;
    private long next = 1;

    Sealer(Transform cipher, Optional<Transform> integrity, byte[] key, byte[] macKey, SecureRandom random) {
        this.cipher = cipher;
        this.integrity = integrity;
        this.key = key;
        this.macKey = macKey;
        this.random = random;
    }

    int ivBytes() {
        return cipher.isAuthenticated() ? AEAD_IV : BLOCK;
    }

    int tagBytes() {
        return cipher.isAuthenticated() ? AEAD_TAG : integrity.orElseThrow().tagBytes();
    }

    /** What the text's length, padding included, is a multiple of. */
    int block() {
        return cipher.isAuthenticated() ? 4 : BLOCK;
    }

    /** Initial value, sealed text and tag; the text is padded already. */
    byte[] seal(byte[] header, byte[] text) {
        byte[] iv = new byte[ivBytes()];
        if (cipher.isAuthenticated()) {
            ByteBuffer.wrap(iv).putLong(next++);
        } else {
            random.nextBytes(iv);
        }
        try {
            if (cipher.isAuthenticated()) {
                return Bytes.join(iv, aead(true, iv, header, text));
            }
            byte[] sealed = Bytes.join(iv, cbc(true, iv, text));
            return Bytes.join(sealed, tag(header, sealed));
        } catch (InvalidCipherTextException e) {
            throw new IllegalStateException("sealing cannot fail on a tag", e);
        }
    }

    /** The padded text; empty where it does not open. */
    Optional<byte[]> open(byte[] header, byte[] sealed) {
        int iv = ivBytes();
        int tag = tagBytes();
        int text = sealed.length - iv - tag;
        if (text < block() || text % (cipher.isAuthenticated() ? 1 : BLOCK) != 0) {
            return Optional.empty();
        }
        byte[] first = Arrays.copyOf(sealed, iv);
        try {
            if (cipher.isAuthenticated()) {
                return Optional.of(aead(false, first, header, Arrays.copyOfRange(sealed, iv, sealed.length)));
            }
            byte[] body = Arrays.copyOf(sealed, iv + text);
            if (!MessageDigest.isEqual(tag(header, body), Arrays.copyOfRange(sealed, iv + text, sealed.length))) {
                return Optional.empty();
            }
            return Optional.of(cbc(false, first, Arrays.copyOfRange(body, iv, body.length)));
        } catch (InvalidCipherTextException e) {
            return Optional.empty();
        }
    }

    private byte[] tag(byte[] header, byte[] sealed) {
        Transform t = integrity.orElseThrow();
        return Arrays.copyOf(Prf.mac(t.hash(), macKey, header, sealed), t.tagBytes());
    }

    private byte[] aead(boolean seal, byte[] iv, byte[] header, byte[] in) throws InvalidCipherTextException {
        int keyBytes = key.length - 4;
        byte[] nonce = Bytes.join(Arrays.copyOfRange(key, keyBytes, key.length), iv);
        AEADCipher aead = cipher.id() == Transform.CHACHA20_POLY1305
                ? new ChaCha20Poly1305()
                : GCMBlockCipher.newInstance(AESEngine.newInstance());
        aead.init(seal, new AEADParameters(new KeyParameter(key, 0, keyBytes), AEAD_TAG * 8, nonce, header));
        byte[] out = new byte[aead.getOutputSize(in.length)];
        int done = aead.processBytes(in, 0, in.length, out, 0);
        aead.doFinal(out, done);
        return out;
    }

    private byte[] cbc(boolean seal, byte[] iv, byte[] in) {
        CBCModeCipher cbc = CBCBlockCipher.newInstance(AESEngine.newInstance());
        cbc.init(seal, new ParametersWithIV(new KeyParameter(key), iv));
        byte[] out = new byte[in.length];
        for (int at = 0; at < in.length; at += BLOCK) {
            cbc.processBlock(in, at, out, at);
        }
        return out;
    }
}
