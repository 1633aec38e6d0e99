package tender.standins.exported;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.profile.StaticKey;

/** A device that makes its client files itself: its authority's key never leaves it, and it revokes what it signed. */
public final class OpenVpnDevice {
    private static final Duration LIFE = Duration.ofDays(700);

    private final SecureRandom random = new SecureRandom();
    private final Instant now;
    private final Authority authority;
    private final ExportedFiles.OpenVpnEnd end;
    private final Map<String, String> serials = new HashMap<>();
    private final List<Authority.Revoked> revoked = new ArrayList<>();

    public OpenVpnDevice(Instant now, String serverName) {
        this.now = now;
        this.authority = Authority.make("Office device", key(), now, now.plus(LIFE), random);
        CertificateKey key = key();
        this.end = new ExportedFiles.OpenVpnEnd(
                ExportedFiles.pem("CERTIFICATE", authority.certificate()),
                ExportedFiles.pem("CERTIFICATE", sign(Authority.Purpose.SERVER, serverName, key, LIFE)),
                ExportedFiles.pem(key),
                StaticKey.generate(random));
    }

    /** The server's end, to run it for real. */
    public ExportedFiles.OpenVpnEnd end() {
        return end;
    }

    /**
     * A client file for a user, with a new certificate.
     *
     * @param remote host and port as the device writes them
     */
    public String export(String user, String remote, Duration life) {
        CertificateKey own = key();
        byte[] certificate = sign(Authority.Purpose.CLIENT, user, own, life);
        serials.put(user, CertificateFacts.of(certificate).serial());
        return "client\ndev tun\nproto udp\nremote " + remote
                + "\nnobind\npersist-tun\nremote-cert-tls server\ndata-ciphers AES-256-GCM\nauth SHA256\n"
                + ExportedFiles.block("ca", end.authority())
                + ExportedFiles.block("cert", ExportedFiles.pem("CERTIFICATE", certificate))
                + ExportedFiles.block("key", ExportedFiles.pem(own))
                + ExportedFiles.block("tls-crypt", end.tlsCrypt());
    }

    /** One archive with the files of several users, each named after its user. */
    public byte[] archive(List<String> users, String remote) {
        Map<String, String> parts = new LinkedHashMap<>();
        users.forEach(u -> parts.put("export/" + u + ".ovpn", export(u, remote, LIFE)));
        return ExportedFiles.zip(parts);
    }

    /** Revokes the newest certificate of a user. */
    public void revoke(String user) {
        revoked.add(new Authority.Revoked(serials.get(user), now, 0));
    }

    /** The list of revoked certificates, in PEM. */
    public byte[] revocationList() {
        return ExportedFiles.pem("X509 CRL", authority.revocations(revoked, revoked.size() + 1, now, now.plus(LIFE)))
                .getBytes(StandardCharsets.US_ASCII);
    }

    private CertificateKey key() {
        return CertificateKey.generate(CertificateKey.Kind.EC_P256, random);
    }

    private byte[] sign(Authority.Purpose purpose, String name, CertificateKey key, Duration life) {
        return authority.sign(
                purpose, name, List.of(name), key.publicKey(), now, now.plus(life), Optional.empty(), random);
    }
}
