package tender.core.handout;

import java.security.SecureRandom;
import java.util.Base64;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.wire.Sha256;

/** Random tokens of 256 bits that are kept only as digests: handout links, sign-in sessions, client tokens. */
public final class LinkToken {
    private static final int BYTES = 32;

    private LinkToken() {}

    /** The token's text: 43 characters of URL-safe base64. */
    public static Secret generate(SecureRandom random) {
        byte[] bytes = new byte[BYTES];
        random.nextBytes(bytes);
        return Secret.of(Base64.getUrlEncoder().withoutPadding().encodeToString(bytes));
    }

    /** What is stored in the token's place: SHA-256 in hex. */
    public static String digest(Secret token) {
        return Sha256.hex(token.reveal(RevealSecret.TO_COMPARE));
    }

    public static String digest(String token) {
        return Sha256.hex(token);
    }
}
