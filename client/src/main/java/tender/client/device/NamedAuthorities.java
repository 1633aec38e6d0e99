package tender.client.device;

import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.util.Arrays;
import java.util.List;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLSocketFactory;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;
import javax.net.ssl.X509TrustManager;
import tender.core.wire.Sha256;

/**
 * Believes a service whose certificate rests on an authority of this machine, or on one that the provisioning file names. That the
 * certificate is for the name that is called is checked beside this.
 */
final class NamedAuthorities implements X509TrustManager {
    private final X509TrustManager usual;
    private final List<String> fingerprints;

    private NamedAuthorities(X509TrustManager usual, List<String> fingerprints) {
        this.usual = usual;
        this.fingerprints = fingerprints;
    }

    /** @param fingerprints SHA-256 of certificates, in hexadecimal */
    static SSLSocketFactory sockets(List<String> fingerprints) {
        try {
            TrustManagerFactory factory = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
            factory.init((KeyStore) null);
            X509TrustManager usual = Arrays.stream(factory.getTrustManagers())
                    .filter(X509TrustManager.class::isInstance)
                    .map(X509TrustManager.class::cast)
                    .findFirst()
                    .orElseThrow();
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(null, new TrustManager[] {new NamedAuthorities(usual, fingerprints)}, null);
            return context.getSocketFactory();
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every Java has TLS", e);
        }
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type) throws CertificateException {
        throw new CertificateException("no client is asked here");
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type) throws CertificateException {
        try {
            usual.checkServerTrusted(chain, type);
        } catch (CertificateException e) {
            if (!restsOnNamed(chain)) {
                throw e;
            }
        }
    }

    /** Whether each certificate is valid now and signed by the next one, up to one that is named. */
    private boolean restsOnNamed(X509Certificate[] chain) {
        try {
            for (int i = 0; i < chain.length; i++) {
                chain[i].checkValidity();
                if (fingerprints.contains(Sha256.hex(chain[i].getEncoded()))) {
                    return i == 0 || chain[i].getBasicConstraints() >= 0;
                }
                if (i + 1 == chain.length || chain[i + 1].getBasicConstraints() < 0) {
                    return false;
                }
                chain[i].verify(chain[i + 1].getPublicKey());
            }
            return false;
        } catch (GeneralSecurityException e) {
            return false;
        }
    }

    @Override
    public X509Certificate[] getAcceptedIssuers() {
        return usual.getAcceptedIssuers();
    }
}
