package tender.io.trial;

import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.List;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;
import javax.net.ssl.X509TrustManager;

/** The authorities that this machine believes by itself, as a browser on it would. */
public final class OwnAuthorities {
    private static final List<byte[]> ALL = read();

    private OwnAuthorities() {}

    /** These, and the machine's own. */
    public static List<byte[]> with(List<byte[]> known) {
        List<byte[]> out = new ArrayList<>(known);
        out.addAll(ALL);
        return out;
    }

    private static List<byte[]> read() {
        try {
            TrustManagerFactory factory = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
            factory.init((KeyStore) null);
            List<byte[]> out = new ArrayList<>();
            for (TrustManager manager : factory.getTrustManagers()) {
                if (manager instanceof X509TrustManager x) {
                    for (X509Certificate c : x.getAcceptedIssuers()) {
                        out.add(c.getEncoded());
                    }
                }
            }
            return List.copyOf(out);
        } catch (GeneralSecurityException e) {
            return List.of(); // nothing is believed then, which is said of every certificate
        }
    }
}
