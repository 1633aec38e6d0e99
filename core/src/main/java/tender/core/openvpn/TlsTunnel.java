package tender.core.openvpn;

import java.io.IOException;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Vector;
import org.bouncycastle.asn1.x509.Certificate;
import org.bouncycastle.crypto.params.AsymmetricKeyParameter;
import org.bouncycastle.crypto.params.ECPrivateKeyParameters;
import org.bouncycastle.crypto.params.Ed25519PrivateKeyParameters;
import org.bouncycastle.crypto.params.RSAKeyParameters;
import org.bouncycastle.crypto.util.PrivateKeyFactory;
import org.bouncycastle.tls.AlertDescription;
import org.bouncycastle.tls.AlertLevel;
import org.bouncycastle.tls.CertificateEntry;
import org.bouncycastle.tls.CertificateRequest;
import org.bouncycastle.tls.DefaultTlsClient;
import org.bouncycastle.tls.NamedGroup;
import org.bouncycastle.tls.NamedGroupRole;
import org.bouncycastle.tls.ProtocolVersion;
import org.bouncycastle.tls.SignatureAlgorithm;
import org.bouncycastle.tls.SignatureAndHashAlgorithm;
import org.bouncycastle.tls.TlsAuthentication;
import org.bouncycastle.tls.TlsClientProtocol;
import org.bouncycastle.tls.TlsCredentials;
import org.bouncycastle.tls.TlsFatalAlert;
import org.bouncycastle.tls.TlsServerCertificate;
import org.bouncycastle.tls.TlsUtils;
import org.bouncycastle.tls.crypto.TlsCertificate;
import org.bouncycastle.tls.crypto.TlsCryptoParameters;
import org.bouncycastle.tls.crypto.impl.bc.BcDefaultTlsCredentialedSigner;
import org.bouncycastle.tls.crypto.impl.bc.BcTlsCertificate;
import org.bouncycastle.tls.crypto.impl.bc.BcTlsCrypto;
import tender.core.credential.RevealSecret;
import tender.core.openvpn.ClientSettings.Identity;

/**
 * TLS 1.2 or 1.3 as a client over messages instead of a socket. The server's certificate is told and not judged: whether it
 * is to be believed is said by whoever reads the trial, with its reasons.
 */
final class TlsTunnel {
    private static final String EXPORTER = "EXPORTER-OpenVPN-datakeys";

    private final BcTlsCrypto crypto;
    private final TlsClientProtocol protocol = new TlsClientProtocol();
    private final Client client;
    private List<byte[]> serverChain = List.of();
    private boolean certificateAsked;
    private byte[] dataKeys = new byte[0];
    private boolean done;
    private Optional<String> alertReceived = Optional.empty();
    private Optional<String> alertSent = Optional.empty();

    TlsTunnel(Optional<Identity> identity, SecureRandom random) throws IOException {
        this.crypto = new BcTlsCrypto(random);
        this.client = new Client(identity);
        protocol.connect(client);
    }

    /** Bytes for the server. */
    byte[] output() {
        byte[] out = new byte[protocol.getAvailableOutputBytes()];
        int n = protocol.readOutput(out, 0, out.length);
        return Arrays.copyOf(out, Math.max(0, n));
    }

    /** Bytes of the server; throws where it breaks the protocol or ends it. */
    void input(byte[] bytes) throws IOException {
        protocol.offerInput(bytes);
    }

    /** What the server said inside. */
    byte[] received() {
        byte[] out = new byte[protocol.getAvailableInputBytes()];
        int n = protocol.readInput(out, 0, out.length);
        return Arrays.copyOf(out, Math.max(0, n));
    }

    void say(byte[] message) throws IOException {
        protocol.writeApplicationData(message, 0, message.length);
    }

    boolean isDone() {
        return done;
    }

    boolean wasAskedForCertificate() {
        return certificateAsked;
    }

    /** The server's certificates, its own first; empty until they came. */
    List<byte[]> serverChain() {
        return serverChain;
    }

    Optional<String> alertReceived() {
        return alertReceived;
    }

    Optional<String> alertSent() {
        return alertSent;
    }

    Optional<String> version() {
        return client.version();
    }

    /** Keying material for the data channel (RFC 5705), the same on both sides. */
    byte[] dataKeys() {
        return dataKeys;
    }

    private final class Client extends DefaultTlsClient {
        private final Optional<Identity> identity;

        private Client(Optional<Identity> identity) {
            super(TlsTunnel.this.crypto);
            this.identity = identity;
        }

        @Override
        protected ProtocolVersion[] getSupportedVersions() {
            return ProtocolVersion.TLSv13.downTo(ProtocolVersion.TLSv12);
        }

        /** The library's, and the largest of the usual curves, which some servers insist on. */
        @Override
        @SuppressWarnings({"rawtypes", "unchecked"}) // the library's own signature
        protected Vector getSupportedGroups(Vector roles) {
            Vector groups = super.getSupportedGroups(roles);
            if (roles.contains(NamedGroupRole.ecdh)) {
                TlsUtils.addIfSupported(groups, getCrypto(), NamedGroup.secp521r1);
            }
            return groups;
        }

        private Optional<String> version() {
            return Optional.ofNullable(context).map(c -> c.getServerVersion()).map(ProtocolVersion::toString);
        }

        @Override
        public void notifyHandshakeComplete() throws IOException {
            super.notifyHandshakeComplete();
            dataKeys = context.exportKeyingMaterial(EXPORTER, null, KeyExchange.KEYS_BYTES);
            done = true;
        }

        @Override
        public void notifyAlertReceived(short level, short description) {
            if (level == AlertLevel.fatal) {
                alertReceived = Optional.of(AlertDescription.getName(description));
            }
        }

        @Override
        public void notifyAlertRaised(short level, short description, String message, Throwable cause) {
            if (level == AlertLevel.fatal) {
                alertSent = Optional.of(AlertDescription.getName(description));
            }
        }

        @Override
        public TlsAuthentication getAuthentication() {
            return new TlsAuthentication() {
                @Override
                public void notifyServerCertificate(TlsServerCertificate server) throws IOException {
                    List<byte[]> chain = new ArrayList<>();
                    for (TlsCertificate c : server.getCertificate().getCertificateList()) {
                        chain.add(c.getEncoded());
                    }
                    serverChain = List.copyOf(chain);
                }

                @Override
                public TlsCredentials getClientCredentials(CertificateRequest request) throws IOException {
                    certificateAsked = true;
                    return identity.isEmpty() ? null : credentials(identity.get(), request);
                }
            };
        }

        private TlsCredentials credentials(Identity identity, CertificateRequest request) throws IOException {
            AsymmetricKeyParameter key =
                    PrivateKeyFactory.createKey(identity.key().privateKey().reveal(RevealSecret.TO_HANDSHAKE));
            List<CertificateEntry> entries = new ArrayList<>();
            for (byte[] der : identity.chain()) {
                entries.add(new CertificateEntry(
                        new BcTlsCertificate(TlsTunnel.this.crypto, Certificate.getInstance(der)), null));
            }
            byte[] about = request.getCertificateRequestContext();
            var chain = TlsUtils.isTLSv13(context)
                    ? new org.bouncycastle.tls.Certificate(about, entries.toArray(new CertificateEntry[0]))
                    : new org.bouncycastle.tls.Certificate(entries.stream()
                            .map(CertificateEntry::getCertificate)
                            .toArray(TlsCertificate[]::new));
            return new BcDefaultTlsCredentialedSigner(
                    new TlsCryptoParameters(context), TlsTunnel.this.crypto, key, chain, algorithm(key, request));
        }

        /** The server's first choice that this key can do. */
        private SignatureAndHashAlgorithm algorithm(AsymmetricKeyParameter key, CertificateRequest request)
                throws IOException {
            Vector<?> offered = request.getSupportedSignatureAlgorithms();
            for (Object one : offered == null ? new Vector<>() : offered) {
                SignatureAndHashAlgorithm a = (SignatureAndHashAlgorithm) one;
                if (fits(key, a)) {
                    return a;
                }
            }
            throw new TlsFatalAlert(
                    AlertDescription.handshake_failure, "the server takes no signature of this key's kind");
        }

        private boolean fits(AsymmetricKeyParameter key, SignatureAndHashAlgorithm a) {
            short signature = a.getSignature();
            boolean modern = TlsUtils.isTLSv13(context);
            if (key instanceof RSAKeyParameters) {
                boolean pss = signature == SignatureAlgorithm.rsa_pss_rsae_sha256
                        || signature == SignatureAlgorithm.rsa_pss_rsae_sha384
                        || signature == SignatureAlgorithm.rsa_pss_rsae_sha512;
                return pss || !modern && signature == SignatureAlgorithm.rsa && a.getHash() >= 4;
            }
            if (key instanceof ECPrivateKeyParameters ec) {
                int bits = ec.getParameters().getCurve().getFieldSize();
                int hash = a.getHash(); // 4 SHA-256, 5 SHA-384, 6 SHA-512
                boolean sameSize = bits <= 256 ? hash == 4 : bits <= 384 ? hash == 5 : hash == 6;
                return signature == SignatureAlgorithm.ecdsa && (sameSize || !modern && hash >= 4);
            }
            return key instanceof Ed25519PrivateKeyParameters && signature == SignatureAlgorithm.ed25519;
        }
    }
}
