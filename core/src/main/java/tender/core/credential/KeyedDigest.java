package tender.core.credential;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.util.HexFormat;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/** HMAC-SHA-256 (RFC 2104) in hex: a digest that only whoever has the key can make or check. */
public final class KeyedDigest {
    private KeyedDigest() {}

    /** A key for one purpose, made from another. */
    public static Secret derived(Secret key, String purpose) {
        return Secret.of(of(key, ("derived for " + purpose).getBytes(StandardCharsets.US_ASCII)));
    }

    public static String of(Secret key, byte[]... parts) {
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(key.reveal(RevealSecret.TO_COMPARE), "HmacSHA256"));
            for (byte[] part : parts) {
                mac.update(part);
            }
            return HexFormat.of().formatHex(mac.doFinal());
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every Java has HMAC-SHA-256", e);
        }
    }
}
