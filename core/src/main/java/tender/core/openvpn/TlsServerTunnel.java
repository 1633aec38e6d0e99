package tender.core.openvpn;

import java.io.IOException;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Vector;
import org.bouncycastle.asn1.x509.Certificate;
import org.bouncycastle.crypto.util.PrivateKeyFactory;
import org.bouncycastle.tls.AlertDescription;
import org.bouncycastle.tls.CertificateEntry;
import org.bouncycastle.tls.CertificateRequest;
import org.bouncycastle.tls.ClientCertificateType;
import org.bouncycastle.tls.DefaultTlsServer;
import org.bouncycastle.tls.HashAlgorithm;
import org.bouncycastle.tls.ProtocolVersion;
import org.bouncycastle.tls.SignatureAlgorithm;
import org.bouncycastle.tls.SignatureAndHashAlgorithm;
import org.bouncycastle.tls.TlsCredentials;
import org.bouncycastle.tls.TlsFatalAlert;
import org.bouncycastle.tls.TlsServerProtocol;
import org.bouncycastle.tls.TlsUtils;
import org.bouncycastle.tls.crypto.TlsCertificate;
import org.bouncycastle.tls.crypto.TlsCryptoParameters;
import org.bouncycastle.tls.crypto.impl.bc.BcDefaultTlsCredentialedSigner;
import org.bouncycastle.tls.crypto.impl.bc.BcTlsCertificate;
import org.bouncycastle.tls.crypto.impl.bc.BcTlsCrypto;
import tender.core.credential.RevealSecret;
import tender.core.openvpn.ClientSettings.Identity;

/** TLS 1.2 or 1.3 as a server over messages instead of a socket, with a key on the curve P-256. */
final class TlsServerTunnel {
    private static final String EXPORTER = "EXPORTER-OpenVPN-datakeys";
    private static final SignatureAndHashAlgorithm SIGNS =
            new SignatureAndHashAlgorithm(HashAlgorithm.sha256, SignatureAlgorithm.ecdsa);

    /** Says why a caller's certificates are not believed; empty where they are. */
    interface Callers {
        Optional<String> refuses(List<byte[]> chain);
    }

    private final BcTlsCrypto crypto;
    private final TlsServerProtocol protocol = new TlsServerProtocol();
    private List<byte[]> callerChain = List.of();
    private byte[] dataKeys = new byte[0];
    private boolean done;

    TlsServerTunnel(Identity identity, boolean asksCertificate, Callers callers, SecureRandom random)
            throws IOException {
        this.crypto = new BcTlsCrypto(random);
        protocol.accept(new Server(identity, asksCertificate, callers));
    }

    byte[] output() {
        byte[] out = new byte[protocol.getAvailableOutputBytes()];
        int n = protocol.readOutput(out, 0, out.length);
        return Arrays.copyOf(out, Math.max(0, n));
    }

    /** Bytes of the caller; throws where it breaks the protocol or is not believed. */
    void input(byte[] bytes) throws IOException {
        protocol.offerInput(bytes);
    }

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

    List<byte[]> callerChain() {
        return callerChain;
    }

    byte[] dataKeys() {
        return dataKeys;
    }

    private final class Server extends DefaultTlsServer {
        private final Identity identity;
        private final boolean asksCertificate;
        private final Callers callers;

        private Server(Identity identity, boolean asksCertificate, Callers callers) {
            super(TlsServerTunnel.this.crypto);
            this.identity = identity;
            this.asksCertificate = asksCertificate;
            this.callers = callers;
        }

        @Override
        protected ProtocolVersion[] getSupportedVersions() {
            return ProtocolVersion.TLSv13.downTo(ProtocolVersion.TLSv12);
        }

        @Override
        public void notifyHandshakeComplete() throws IOException {
            super.notifyHandshakeComplete();
            dataKeys = context.exportKeyingMaterial(EXPORTER, null, KeyExchange.KEYS_BYTES);
            done = true;
        }

        @Override
        public TlsCredentials getCredentials() throws IOException {
            List<CertificateEntry> entries = new ArrayList<>();
            for (byte[] der : identity.chain()) {
                entries.add(new CertificateEntry(
                        new BcTlsCertificate(TlsServerTunnel.this.crypto, Certificate.getInstance(der)), null));
            }
            var chain = TlsUtils.isTLSv13(context)
                    ? new org.bouncycastle.tls.Certificate(
                            TlsUtils.EMPTY_BYTES, entries.toArray(new CertificateEntry[0]))
                    : new org.bouncycastle.tls.Certificate(entries.stream()
                            .map(CertificateEntry::getCertificate)
                            .toArray(TlsCertificate[]::new));
            return new BcDefaultTlsCredentialedSigner(
                    new TlsCryptoParameters(context),
                    TlsServerTunnel.this.crypto,
                    PrivateKeyFactory.createKey(identity.key().privateKey().reveal(RevealSecret.TO_HANDSHAKE)),
                    chain,
                    SIGNS);
        }

        @Override
        public CertificateRequest getCertificateRequest() throws IOException {
            if (!asksCertificate) {
                return null;
            }
            Vector<?> algorithms = TlsUtils.getDefaultSupportedSignatureAlgorithms(context);
            return TlsUtils.isTLSv13(context)
                    ? new CertificateRequest(TlsUtils.EMPTY_BYTES, algorithms, null, null)
                    : new CertificateRequest(
                            new short[] {ClientCertificateType.ecdsa_sign, ClientCertificateType.rsa_sign},
                            algorithms,
                            null);
        }

        @Override
        public void notifyClientCertificate(org.bouncycastle.tls.Certificate shown) throws IOException {
            List<byte[]> chain = new ArrayList<>();
            for (TlsCertificate c : shown.getCertificateList()) {
                chain.add(c.getEncoded());
            }
            callerChain = List.copyOf(chain);
            if (callers.refuses(callerChain).isPresent()) {
                throw new TlsFatalAlert(AlertDescription.bad_certificate);
            }
        }
    }
}
