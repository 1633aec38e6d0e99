package tender.io.gateway;

import java.util.Locale;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;

/**
 * How Tender signs in at a device.
 *
 * @param secret a private key without a passphrase, a password, or the token of a gateway API
 */
public record SignIn(Method method, Secret secret) {
    /** What the secret is. */
    public enum Method {
        KEY,
        /** Also answers the one hidden question of keyboard-interactive (RFC 4256). */
        PASSWORD,
        TOKEN;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        /** @throws MalformedException where it is not key, password or token */
        public static Method parse(String word) {
            for (Method m : values()) {
                if (m.word().equals(word)) {
                    return m;
                }
            }
            throw new MalformedException("sign-in", "", "key, password or token");
        }
    }
}
