package tender.core.handout;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.Optional;
import org.bouncycastle.crypto.InvalidCipherTextException;
import org.bouncycastle.crypto.digests.SHA256Digest;
import org.bouncycastle.crypto.engines.AESEngine;
import org.bouncycastle.crypto.generators.HKDFBytesGenerator;
import org.bouncycastle.crypto.modes.GCMBlockCipher;
import org.bouncycastle.crypto.params.AEADParameters;
import org.bouncycastle.crypto.params.HKDFParameters;
import org.bouncycastle.crypto.params.KeyParameter;
import tender.core.credential.Passphrase;
import tender.core.credential.PasswordHash;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;

/**
 * What is to be collected, encrypted under the link's token and the passphrase together: AES-256-GCM with a key from
 * HKDF-SHA256 (RFC 5869) over Argon2id(passphrase) and the token. Whoever stores it can open it with neither alone.
 */
public record Parcel(byte[] salt, byte[] sealed) {
    private static final int SALT_BYTES = 16;
    private static final int NONCE_BYTES = 12;
    private static final int KEY_BYTES = 32;
    private static final int TAG_BITS = 128;
    private static final byte[] INFO = "tender handout parcel 1".getBytes(StandardCharsets.US_ASCII);

    public static Parcel seal(byte[] content, Secret token, Secret passphrase, SecureRandom random) {
        byte[] salt = new byte[SALT_BYTES];
        random.nextBytes(salt);
        try {
            return new Parcel(salt, crypt(true, key(token, passphrase, salt), content));
        } catch (InvalidCipherTextException e) {
            throw new IllegalStateException("encryption cannot fail on a tag", e);
        }
    }

    /** What no passphrase opens: trying costs the same, making it costs nothing. */
    public static Parcel ofNobody(int contentBytes, SecureRandom random) {
        byte[] salt = new byte[SALT_BYTES];
        byte[] sealed = new byte[contentBytes + TAG_BITS / Byte.SIZE];
        random.nextBytes(salt);
        random.nextBytes(sealed);
        return new Parcel(salt, sealed);
    }

    /** Opens with what a person typed; empty when token or passphrase is wrong. */
    public Optional<byte[]> open(Secret token, String typedPassphrase) {
        try {
            return Optional.of(
                    crypt(false, key(token, Secret.of(Passphrase.normalise(typedPassphrase)), salt), sealed));
        } catch (InvalidCipherTextException e) {
            return Optional.empty();
        }
    }

    private static byte[] key(Secret token, Secret passphrase, byte[] salt) {
        byte[] stretched =
                PasswordHash.derive(passphrase, salt, PasswordHash.MEMORY_KIB, PasswordHash.PASSES, KEY_BYTES);
        byte[] tokenBytes = token.reveal(RevealSecret.TO_HAND_OUT);
        byte[] input = java.util.Arrays.copyOf(stretched, KEY_BYTES + tokenBytes.length);
        System.arraycopy(tokenBytes, 0, input, KEY_BYTES, tokenBytes.length);
        HKDFBytesGenerator hkdf = new HKDFBytesGenerator(new SHA256Digest());
        hkdf.init(new HKDFParameters(input, salt, INFO));
        byte[] key = new byte[KEY_BYTES];
        hkdf.generateBytes(key, 0, KEY_BYTES);
        return key;
    }

    /** The key is fresh for each salt and used once, so the nonce can be fixed. */
    private static byte[] crypt(boolean encrypt, byte[] key, byte[] input) throws InvalidCipherTextException {
        var cipher = GCMBlockCipher.newInstance(AESEngine.newInstance());
        cipher.init(encrypt, new AEADParameters(new KeyParameter(key), TAG_BITS, new byte[NONCE_BYTES]));
        byte[] out = new byte[cipher.getOutputSize(input.length)];
        int written = cipher.processBytes(input, 0, input.length, out, 0);
        cipher.doFinal(out, written);
        return out;
    }
}
