package tender.io.gateway;

import java.security.PublicKey;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.digest.BuiltinDigests;
import org.apache.sshd.common.keyprovider.KeyPairProvider;

/** SSH host keys as people compare them: {@code ED25519 SHA256:…}, as ssh-keygen prints type and fingerprint. */
final class HostKeys {
    /** Types, the one that is asked for first in front. */
    static final List<String> TYPES = List.of("ED25519", "ECDSA", "RSA");

    private HostKeys() {}

    static String told(PublicKey key) {
        String fingerprint = KeyUtils.getFingerPrint(BuiltinDigests.sha256, key);
        return type(KeyUtils.getKeyType(key)).map(t -> t + " " + fingerprint).orElse(fingerprint);
    }

    /** The type of a signature or key algorithm (RFC 4253 §6.6, RFC 5656, RFC 8709). */
    static Optional<String> type(String algorithm) {
        if (algorithm == null) {
            return Optional.empty();
        }
        if (algorithm.equals(KeyPairProvider.SSH_ED25519)) {
            return Optional.of("ED25519");
        }
        String lower = algorithm.toLowerCase(Locale.ROOT);
        return lower.startsWith("ecdsa-")
                ? Optional.of("ECDSA")
                : lower.contains("rsa") ? Optional.of("RSA") : Optional.empty();
    }

    /** The type that an identity names; one that was accepted before types were told names none. */
    static Optional<String> typeOf(String identity) {
        int space = identity.indexOf(' ');
        return space < 0
                ? Optional.empty()
                : Optional.of(identity.substring(0, space)).filter(TYPES::contains);
    }

    /** Whether two identities are of one key; the type may be left out. */
    static boolean isSame(String one, String other) {
        return fingerprint(one).equals(fingerprint(other));
    }

    private static String fingerprint(String identity) {
        return identity.strip().substring(identity.strip().lastIndexOf(' ') + 1);
    }
}
