package tender.io.gateway;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.util.Optional;
import org.apache.sshd.common.NamedResource;
import org.apache.sshd.common.config.keys.FilePasswordProvider;
import org.apache.sshd.common.config.keys.writer.openssh.OpenSSHKeyPairResourceWriter;
import org.apache.sshd.common.util.security.SecurityUtils;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;

/** Private SSH keys as text, in OpenSSH's or PEM form. */
public final class SshKeys {
    private SshKeys() {}

    /** @throws GatewayFailure of kind BAD_KEY where the text holds no private key without a passphrase */
    static KeyPair pair(Secret text) {
        return pair(text, Optional.empty());
    }

    /**
     * The same key without its passphrase; a key that has none stays as it is.
     *
     * @throws GatewayFailure of kind BAD_KEY where the text holds no private key, or the passphrase does not open it
     */
    public static Secret unlocked(Secret text, Optional<Secret> passphrase) {
        KeyPair pair = pair(text, passphrase);
        if (passphrase.isEmpty()) {
            return text;
        }
        try {
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            OpenSSHKeyPairResourceWriter.INSTANCE.writePrivateKey(pair, "", null, out);
            return Secret.of(out.toByteArray());
        } catch (IOException | GeneralSecurityException e) {
            throw new GatewayFailure(GatewayFailure.Kind.BAD_KEY, "this kind of SSH key cannot be kept", null);
        }
    }

    private static KeyPair pair(Secret text, Optional<Secret> passphrase) {
        boolean[] asked = new boolean[1];
        FilePasswordProvider provider = (session, resource, retries) -> {
            asked[0] = true;
            return retries > 0
                    ? null
                    : passphrase.map(p -> p.revealText(RevealSecret.TO_SIGN_IN)).orElse(null);
        };
        try (ByteArrayInputStream in = new ByteArrayInputStream(text.reveal(RevealSecret.TO_SIGN_IN))) {
            Iterable<KeyPair> pairs =
                    SecurityUtils.loadKeyPairIdentities(null, NamedResource.ofName("key"), in, provider);
            if (pairs != null && pairs.iterator().hasNext()) {
                return pairs.iterator().next();
            }
        } catch (IOException | GeneralSecurityException | RuntimeException e) {
            throw new GatewayFailure(GatewayFailure.Kind.BAD_KEY, unreadable(asked[0], passphrase.isPresent()), null);
        }
        throw new GatewayFailure(
                GatewayFailure.Kind.BAD_KEY,
                asked[0] ? unreadable(true, passphrase.isPresent()) : "the text holds no SSH private key",
                null);
    }

    private static String unreadable(boolean locked, boolean passphrase) {
        if (!locked) {
            return "the SSH key cannot be read; a private key in OpenSSH's or PEM form is expected";
        }
        return passphrase ? "the passphrase does not open this SSH key" : "this SSH key needs its passphrase";
    }
}
