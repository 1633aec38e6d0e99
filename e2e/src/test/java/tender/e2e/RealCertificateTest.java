package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.CertificateKey.Kind;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.profile.IkeConnection;

/** What we make, read by the real openssl and the real strongSwan. */
class RealCertificateTest {
    private static final SecureRandom RANDOM = new SecureRandom();

    @TempDir
    Path folder;

    private final Instant now = Instant.now();

    @BeforeEach
    void canRun() {
        assumeTrue(Shell.has("openssl"));
    }

    private Path put(String name, String content) throws IOException {
        return Files.writeString(folder.resolve(name), content);
    }

    private Authority authority(Kind kind) throws IOException {
        Authority authority = Authority.make(
                "Skerrivane Ferries",
                CertificateKey.generate(kind, RANDOM),
                now,
                now.plus(Duration.ofDays(30)),
                RANDOM);
        put("ca.pem", PemText.write("CERTIFICATE", authority.certificate()));
        return authority;
    }

    private byte[] sign(Authority authority, CertificateKey key, String name) throws IOException {
        byte[] certificate = authority.sign(
                Authority.Purpose.CLIENT,
                name,
                List.of(),
                key.publicKey(),
                now,
                now.plus(Duration.ofDays(10)),
                Optional.of("http://revoked.skerrivane.example/list.crl"),
                RANDOM);
        put("client.pem", PemText.write("CERTIFICATE", certificate));
        return certificate;
    }

    private String at(String name) {
        return folder.resolve(name).toString();
    }

    @ParameterizedTest
    @EnumSource(names = {"EC_P256", "RSA_2048", "ED25519"})
    void opensslBelievesWhatWeSignUntilItIsRevoked(Kind kind) throws IOException {
        Authority authority = authority(kind);
        CertificateKey key = CertificateKey.generate(kind, RANDOM);
        byte[] client = sign(authority, key, "Mara Quillfeather");
        put("list.pem", PemText.write("X509 CRL", authority.revocations(List.of(), 1, now, now.plusSeconds(3600))));

        String[] verify = {
            "openssl",
            "verify",
            "-x509_strict",
            "-purpose",
            "sslclient",
            "-crl_check",
            "-CRLfile",
            at("list.pem"),
            "-CAfile",
            at("ca.pem"),
            at("client.pem")
        };
        assertThat(Shell.run(verify).out()).contains("client.pem: OK");

        put(
                "list.pem",
                PemText.write(
                        "X509 CRL",
                        authority.revocations(
                                List.of(new Authority.Revoked(
                                        CertificateFacts.of(client).serial(), now, 1)),
                                2,
                                now,
                                now.plusSeconds(3600))));
        assertThat(Shell.run(verify).out()).contains("certificate revoked");
        assertThat(Shell.need("openssl", "crl", "-in", at("list.pem"), "-noout", "-text"))
                .contains("Key Compromise")
                .contains("X509v3 Authority Key Identifier");
    }

    @ParameterizedTest
    @EnumSource(KeyStoreFile.Form.class)
    void opensslOpensOurKeyStores(KeyStoreFile.Form form) throws IOException {
        Authority authority = authority(Kind.EC_P256);
        CertificateKey key = CertificateKey.generate(Kind.RSA_2048, RANDOM);
        byte[] client = sign(authority, key, "Mara");
        Files.write(
                folder.resolve("mara.p12"),
                KeyStoreFile.write(
                        form, "Mara, Port Orrin", key, List.of(client, authority.certificate()), "harbour é", RANDOM));
        String[] open = {
            "openssl",
            "pkcs12",
            "-in",
            at("mara.p12"),
            "-passin",
            "pass:harbour é",
            "-nodes",
            form == KeyStoreFile.Form.LEGACY ? "-legacy" : "-info"
        };

        assertThat(Shell.need(open))
                .contains("BEGIN PRIVATE KEY")
                .contains("friendlyName: Mara, Port Orrin")
                .contains("CN = Mara");
        open[5] = "pass:harbor";
        assertThat(Shell.run(open).code()).isNotZero();
        assertThat(KeyStoreFile.of(Files.readAllBytes(folder.resolve("mara.p12")))
                        .isLegacy())
                .isEqualTo(form == KeyStoreFile.Form.LEGACY);
    }

    @Test
    void opensslReadsOurRequestAndWeReadIts() throws IOException {
        CertificateKey key = CertificateKey.generate(Kind.EC_P256, RANDOM);
        put("ours.csr", PemText.write("CERTIFICATE REQUEST", Authority.request("bram-laptop", key, RANDOM)));
        assertThat(Shell.need("openssl", "req", "-in", at("ours.csr"), "-noout", "-verify", "-subject"))
                .contains("verify OK")
                .contains("CN = bram-laptop");

        Shell.need(
                "openssl",
                "req",
                "-new",
                "-newkey",
                "rsa:2048",
                "-nodes",
                "-keyout",
                at("theirs.key"),
                "-subj",
                "/CN=theirs",
                "-out",
                at("theirs.csr"));
        byte[] request = PemText.read(Files.readString(folder.resolve("theirs.csr")))
                .blocks()
                .get(0)
                .der();
        Authority authority = authority(Kind.EC_P256);
        byte[] signed = authority.sign(
                Authority.Purpose.CLIENT,
                "theirs",
                List.of(),
                Authority.publicKeyOf(request),
                now,
                now.plus(Duration.ofDays(1)),
                Optional.empty(),
                RANDOM);
        put("theirs.pem", PemText.write("CERTIFICATE", signed));
        assertThat(Shell.need("openssl", "verify", "-CAfile", at("ca.pem"), at("theirs.pem")))
                .contains("OK");
    }

    @Test
    void strongSwanLoadsOurSection() throws IOException {
        boolean able = Files.exists(Path.of("/usr/sbin/charon-systemd")) && Shell.has("swanctl");
        if (!able) {
            System.out.println("SKIPPED: no charon-systemd and swanctl here");
        }
        assumeTrue(able);
        Authority authority = authority(Kind.EC_P256);
        CertificateKey key = CertificateKey.generate(Kind.EC_P256, RANDOM);
        sign(authority, key, "mara");
        put("client.key", PemText.write("PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE)));
        Path section = put(
                "swanctl.conf",
                new IkeConnection(
                                "port-orrin",
                                Host.parse("orrin.skerrivane.example"),
                                "orrin.skerrivane.example",
                                IkeConnection.Proof.CERTIFICATE,
                                "mara",
                                Optional.of(at("client.pem")),
                                Optional.of(at("ca.pem")),
                                List.of(Cidr.parse("10.20.0.0/24")))
                        .swanctl());
        String socket = "unix://" + at("vici");
        Path settings = put(
                "strongswan.conf",
                "charon-systemd {\n  load_modular = yes\n  port = 0\n  port_nat_t = 0\n  plugins {\n    include /etc/strongswan.d/charon/*.conf\n    vici { socket = "
                        + socket + " }\n  }\n}\n");
        Map<String, String> env = Map.of("STRONGSWAN_CONF", settings.toString());
        ProcessBuilder builder = new ProcessBuilder("/usr/sbin/charon-systemd")
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("charon.log").toFile());
        builder.environment().putAll(env);
        Process charon = builder.start();
        try {
            Shell.until(
                    "charon to answer",
                    Duration.ofSeconds(20),
                    () -> Shell.run("swanctl", "--stats", "--uri", socket).code() == 0);
            String loaded = Shell.need("swanctl", "--load-conns", "--file", section.toString(), "--uri", socket);
            assertThat(loaded).contains("loaded connection 'port-orrin'");
            assertThat(Shell.need("swanctl", "--list-conns", "--uri", socket))
                    .contains("orrin.skerrivane.example")
                    .contains("10.20.0.0/24");
        } finally {
            charon.destroy();
        }
    }
}
