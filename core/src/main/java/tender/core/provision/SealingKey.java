package tender.core.provision;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Optional;
import org.bouncycastle.crypto.AsymmetricCipherKeyPair;
import org.bouncycastle.crypto.InvalidCipherTextException;
import org.bouncycastle.crypto.hpke.HPKE;
import org.bouncycastle.crypto.params.X25519PrivateKeyParameters;
import org.bouncycastle.crypto.params.X25519PublicKeyParameters;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;

/**
 * A device's key pair that things are sealed to, so that whoever passes them on cannot read them: HPKE in base mode (RFC 9180) with
 * DHKEM(X25519, HKDF-SHA256), HKDF-SHA256 and AES-256-GCM.
 */
public final class SealingKey {
    private static final int BYTES = 32;
    private static final byte[] INFO = "tender device delivery 1".getBytes(StandardCharsets.US_ASCII);

    private final Secret secret;

    private SealingKey(Secret secret) {
        this.secret = secret;
    }

    public static SealingKey generate(SecureRandom random) {
        byte[] bytes = new byte[BYTES];
        random.nextBytes(bytes);
        return new SealingKey(Secret.of(bytes));
    }

    /** @param secret the private key's 32 bytes (RFC 7748) */
    public static SealingKey of(Secret secret) {
        return new SealingKey(secret);
    }

    public Secret secret() {
        return secret;
    }

    public byte[] publicBytes() {
        return pair().generatePublicKey().getEncoded();
    }

    /**
     * Seals to a device.
     *
     * @param publicBytes of the device's key, 32 bytes
     * @param place what it is bound to: it opens under the same words only
     * @return the encapsulated key (32 bytes), then the ciphertext
     * @throws MalformedException where the bytes are no such key
     */
    public static byte[] seal(byte[] publicBytes, String place, byte[] content) {
        if (publicBytes.length != BYTES) {
            throw new MalformedException("sealing key", "", "is no public key of X25519");
        }
        try {
            byte[][] sealed = hpke().seal(
                            new X25519PublicKeyParameters(publicBytes, 0),
                            INFO,
                            place.getBytes(StandardCharsets.UTF_8),
                            content,
                            null,
                            null,
                            null);
            byte[] out = Arrays.copyOf(sealed[1], sealed[1].length + sealed[0].length);
            System.arraycopy(sealed[0], 0, out, sealed[1].length, sealed[0].length);
            return out;
        } catch (InvalidCipherTextException | IllegalStateException e) {
            throw new MalformedException("sealing key", "", "is no public key of X25519"); // of small order
        }
    }

    /** Empty where it was sealed to another key or place, or was altered. */
    public Optional<byte[]> open(String place, byte[] sealed) {
        if (sealed.length < BYTES) {
            return Optional.empty();
        }
        X25519PrivateKeyParameters own = pair();
        try {
            return Optional.of(hpke().open(
                            Arrays.copyOf(sealed, BYTES),
                            new AsymmetricCipherKeyPair(own.generatePublicKey(), own),
                            INFO,
                            place.getBytes(StandardCharsets.UTF_8),
                            Arrays.copyOfRange(sealed, BYTES, sealed.length),
                            null,
                            null,
                            null));
        } catch (InvalidCipherTextException | IllegalStateException e) {
            return Optional.empty();
        }
    }

    private X25519PrivateKeyParameters pair() {
        return new X25519PrivateKeyParameters(secret.reveal(RevealSecret.TO_HANDSHAKE), 0);
    }

    private static HPKE hpke() {
        return new HPKE(HPKE.mode_base, HPKE.kem_X25519_SHA256, HPKE.kdf_HKDF_SHA256, HPKE.aead_AES_GCM256);
    }
}
