package tender.core.credential;

import java.security.SecureRandom;
import org.bouncycastle.math.ec.rfc7748.X25519;

/** A Curve25519 key pair (RFC 7748 §5); the private half is clamped when made, as WireGuard's own tools do. */
public record TunnelKeyPair(Secret privateKey, TunnelKey publicKey) {
    /** A new pair for X25519 (RFC 7748 §5). */
    public static TunnelKeyPair generate(SecureRandom random) {
        byte[] secret = new byte[X25519.SCALAR_SIZE];
        X25519.generatePrivateKey(random, secret);
        return ofPrivate(Secret.of(secret));
    }

    /** The pair of a private key, 32 bytes. */
    public static TunnelKeyPair ofPrivate(Secret privateKey) {
        byte[] point = new byte[X25519.POINT_SIZE];
        X25519.generatePublicKey(privateKey.reveal(RevealSecret.TO_HANDSHAKE), 0, point, 0);
        return new TunnelKeyPair(privateKey, TunnelKey.of(point));
    }

    /** Reads a private key's 44 characters. */
    public static TunnelKeyPair parsePrivate(String text) {
        return ofPrivate(Secret.of(TunnelKey.decode(text)));
    }

    /** A fresh preshared key of 32 bytes. */
    public static Secret presharedKey(SecureRandom random) {
        byte[] bytes = new byte[TunnelKey.BYTES];
        random.nextBytes(bytes);
        return Secret.of(bytes);
    }
}
