package tender.core.provision;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Base64;
import org.bouncycastle.crypto.params.Ed25519PublicKeyParameters;
import org.bouncycastle.crypto.signers.Ed25519Signer;
import org.bouncycastle.math.ec.rfc8032.Ed25519;
import tender.core.wire.MalformedException;
import tender.core.wire.Sha256;

/** The public half of a {@link SigningKey}. */
public final class VerifyingKey {
    private static final String FINGERPRINT = "SHA256:";

    private final byte[] bytes;

    private VerifyingKey(byte[] bytes) {
        this.bytes = bytes;
    }

    /** @throws MalformedException where the bytes are no public key of Ed25519 */
    public static VerifyingKey ofBytes(byte[] bytes) {
        if (bytes.length != Ed25519PublicKeyParameters.KEY_SIZE || !Ed25519.validatePublicKeyFull(bytes, 0)) {
            throw new MalformedException("key", "", "is no public key of Ed25519");
        }
        return new VerifyingKey(bytes.clone());
    }

    /** @param x as in a JSON Web Key: base64url without padding (RFC 8037 §2) */
    public static VerifyingKey ofText(String x) {
        try {
            return ofBytes(Base64.getUrlDecoder().decode(x));
        } catch (IllegalArgumentException e) {
            throw new MalformedException("key", "", "is not base64url");
        }
    }

    public byte[] bytes() {
        return bytes.clone();
    }

    public String text() {
        return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    }

    /** The thumbprint of the JSON Web Key (RFC 7638 §3, RFC 8037 §2), as people compare it: {@code SHA256:} and 43 characters. */
    public String fingerprint() {
        String canonical = "{\"crv\":\"Ed25519\",\"kty\":\"OKP\",\"x\":\"" + text() + "\"}";
        return FINGERPRINT
                + Base64.getUrlEncoder()
                        .withoutPadding()
                        .encodeToString(Sha256.of(canonical.getBytes(StandardCharsets.US_ASCII)));
    }

    /** Whether somebody who was told a fingerprint means this key; with or without what stands before it. */
    public boolean isToldAs(String told) {
        String own = fingerprint();
        String typed = told.strip();
        return typed.equals(own) || typed.equals(own.substring(FINGERPRINT.length()));
    }

    public boolean verifies(byte[] message, byte[] signature) {
        Ed25519Signer signer = new Ed25519Signer();
        signer.init(false, new Ed25519PublicKeyParameters(bytes, 0));
        signer.update(message, 0, message.length);
        return signer.verifySignature(signature);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof VerifyingKey k && Arrays.equals(bytes, k.bytes);
    }

    @Override
    public int hashCode() {
        return Arrays.hashCode(bytes);
    }

    @Override
    public String toString() {
        return fingerprint();
    }
}
