package tender.core.provision;

import java.security.SecureRandom;
import org.bouncycastle.crypto.params.Ed25519PrivateKeyParameters;
import org.bouncycastle.crypto.signers.Ed25519Signer;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;

/** A key pair that signs with Ed25519 (RFC 8032): an installation's, for provisioning files, or a device's, for its calls. */
public final class SigningKey {
    private final Secret seed;
    private final VerifyingKey verifying;

    private SigningKey(Secret seed) {
        this.seed = seed;
        this.verifying = VerifyingKey.ofBytes(key(seed).generatePublicKey().getEncoded());
    }

    public static SigningKey generate(SecureRandom random) {
        byte[] seed = new byte[Ed25519PrivateKeyParameters.KEY_SIZE];
        random.nextBytes(seed);
        return new SigningKey(Secret.of(seed));
    }

    /** @param seed the 32 bytes of the private key (RFC 8032 §5.1.5) */
    public static SigningKey of(Secret seed) {
        return new SigningKey(seed);
    }

    public Secret seed() {
        return seed;
    }

    public VerifyingKey verifying() {
        return verifying;
    }

    /** The 64 bytes of the signature. */
    public byte[] sign(byte[] message) {
        Ed25519Signer signer = new Ed25519Signer();
        signer.init(true, key(seed));
        signer.update(message, 0, message.length);
        return signer.generateSignature();
    }

    private static Ed25519PrivateKeyParameters key(Secret seed) {
        return new Ed25519PrivateKeyParameters(seed.reveal(RevealSecret.TO_SIGN), 0);
    }
}
