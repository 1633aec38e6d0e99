package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.core.profile.IkeConnection;
import tender.core.profile.IkeProfile;
import tender.standins.device.Faults;
import tender.standins.device.Journal;
import tender.standins.listener.Callers;
import tender.standins.listener.InsideWorld;
import tender.standins.listener.SimulatedIkeServer;

/** An IKEv2 file on the ports that the standard fixes, tried by an account without any right. */
class IkeByNobodyTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final String AT = "127.68.0.1";
    private static final String SERVER = "orrin.skerrivane.example";

    @TempDir
    Path folder;

    private record Pair(byte[] certificate, CertificateKey key) {}

    private static Pair sign(Authority authority, Authority.Purpose purpose, String name) {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        return new Pair(
                authority.sign(
                        purpose,
                        name,
                        List.of(name),
                        key.publicKey(),
                        Instant.now().minusSeconds(60),
                        Instant.now().plus(Duration.ofDays(5)),
                        Optional.empty(),
                        RANDOM),
                key);
    }

    @Test
    void nobodyProvesAnIkeFileByItsEcho() throws Exception {
        Authority authority = Authority.make(
                "Skerrivane Ferries",
                CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM),
                Instant.now().minus(Duration.ofDays(1)),
                Instant.now().plus(Duration.ofDays(9)),
                RANDOM);
        Pair server = sign(authority, Authority.Purpose.SERVER, SERVER);
        Pair own = sign(authority, Authority.Purpose.CLIENT, "mara");
        Faults faults = new Faults();
        Journal journal = new Journal();
        InetAddress at = InetAddress.getByName(AT);
        try (SimulatedIkeServer speaker = SimulatedIkeServer.start(
                new SimulatedIkeServer.Setup(
                        "phones",
                        at,
                        500,
                        4_500,
                        SERVER,
                        new ClientSettings.Identity(List.of(server.certificate()), server.key()),
                        Cidr.parse("10.98.0.0/24"),
                        List.of(Cidr.parse("10.20.0.0/24")),
                        Optional.empty(),
                        Optional.empty(),
                        new Callers(List.of(authority.certificate()), Set.of(), Optional.empty(), Map.of())),
                new InsideWorld(
                        Set.of(IpAddress.parse("10.20.0.20")), IpAddress.parse("10.20.0.53"), Map.of(), at, faults),
                faults,
                journal)) {
            Path file = Files.writeString(
                    folder.resolve("mara.conf"),
                    new IkeProfile(
                                    new IkeConnection(
                                                    "orrin",
                                                    Host.parse(AT),
                                                    SERVER,
                                                    IkeConnection.Proof.CERTIFICATE,
                                                    "mara",
                                                    Optional.of("mara.pem"),
                                                    Optional.of("authority.pem"),
                                                    List.of(Cidr.parse("10.20.0.0/24")))
                                            .swanctl(),
                                    Optional.of(PemText.write("CERTIFICATE", own.certificate())),
                                    Optional.of(Secret.of(PemText.write(
                                            "PRIVATE KEY",
                                            own.key().privateKey().reveal(RevealSecret.TO_WRITE_FILE)))),
                                    Optional.of(PemText.write("CERTIFICATE", authority.certificate())))
                            .text());

            String out = Nobody.tries(file, "mara.conf", "--inside-host 10.20.0.20 --measure");

            assertThat(speaker.connected()).hasSizeLessThanOrEqualTo(1);
            assertThat(out)
                    .contains(
                            "inside host",
                            "10.20.0.20 answers",
                            "20 echoes, 0 % lost",
                            "proven, rests on this very file");
        }
    }
}
