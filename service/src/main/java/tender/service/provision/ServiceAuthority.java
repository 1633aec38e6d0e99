package tender.service.provision;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.Certificate;
import java.util.Collections;
import java.util.List;
import tender.core.credential.RevealSecret;
import tender.core.wire.Sha256;
import tender.service.settings.Settings;

/** What this service's own certificate rests on, so that a device can believe it where no public authority signed it. */
final class ServiceAuthority {
    private ServiceAuthority() {}

    /** SHA-256 of the last certificate of each chain in the keystore; empty where TLS is not served here, or it cannot be read. */
    static List<String> fingerprints(Settings settings) {
        return settings.tls().map(ServiceAuthority::of).orElse(List.of());
    }

    private static List<String> of(Settings.Tls tls) {
        try (InputStream in = Files.newInputStream(tls.keystore())) {
            KeyStore store = KeyStore.getInstance("PKCS12");
            store.load(in, tls.password().revealText(RevealSecret.TO_SIGN_IN).toCharArray());
            for (String alias : Collections.list(store.aliases())) {
                Certificate[] chain = store.getCertificateChain(alias);
                if (chain != null && chain.length > 0) {
                    return List.of(Sha256.hex(chain[chain.length - 1].getEncoded()));
                }
            }
            return List.of();
        } catch (IOException | GeneralSecurityException e) {
            return List.of(); // the web listener says what is wrong with it
        }
    }
}
