package tender.core.profile;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.wire.MalformedException;

class IkeProfileTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final Instant NOW = Instant.parse("2026-11-23T12:00:00Z");
    private static final CertificateKey KEY = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
    private static final Authority AUTHORITY = Authority.make(
            "Skerrivane Ferries",
            CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM),
            NOW,
            NOW.plus(Duration.ofDays(900)),
            RANDOM);

    private static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.ISO_8859_1);
    }

    private static String key(CertificateKey key) {
        return PemText.write("PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
    }

    private static final String SECTION = new IkeConnection(
                    "orrin",
                    Host.parse("orrin.skerrivane.example"),
                    "orrin.skerrivane.example",
                    IkeConnection.Proof.CERTIFICATE,
                    "mara-phone",
                    Optional.of("mara.pem"),
                    Optional.of("office.pem"),
                    List.of(Cidr.parse("10.20.0.0/24")))
            .swanctl();

    private static Map<String, byte[]> beside() {
        byte[] certificate = AUTHORITY.sign(
                Authority.Purpose.CLIENT,
                "mara-phone",
                List.of(),
                KEY.publicKey(),
                NOW,
                NOW.plus(Duration.ofDays(90)),
                Optional.empty(),
                RANDOM);
        Map<String, byte[]> out = new LinkedHashMap<>();
        out.put("mara.pem", bytes(PemText.write("CERTIFICATE", certificate)));
        out.put("office.pem", bytes(PemText.write("CERTIFICATE", AUTHORITY.certificate())));
        out.put("somebody-elses.pem", bytes(key(CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM))));
        out.put("some.key", bytes(key(KEY)));
        return out;
    }

    @Test
    void theKeyThatBelongsToTheCertificateIsFoundAmongOthers() {
        IkeProfile profile = IkeProfile.of(SECTION, beside());

        assertThat(profile.key().orElseThrow().revealText(RevealSecret.TO_WRITE_FILE))
                .isEqualTo(key(KEY));
        assertThat(profile.authority().orElseThrow()).isEqualTo(PemText.write("CERTIFICATE", AUTHORITY.certificate()));
    }

    @Test
    void oneTextHoldsItAllAndReadsBackTheSame() {
        IkeProfile profile = IkeProfile.of(SECTION, beside());

        IkeProfile back = IkeProfile.read(profile.text());

        assertThat(back.section()).isEqualTo(SECTION);
        assertThat(back.text()).isEqualTo(profile.text());
        assertThat(back.says("remote", "id")).contains("orrin.skerrivane.example");
        assertThat(back.reach()).containsExactly(Cidr.parse("10.20.0.0/24"));
        assertThat(back.files("mara-orrin-r1").keySet())
                .containsExactly(
                        "conf.d/mara-orrin-r1.conf", "x509/mara.pem", "private/mara-orrin-r1.pem", "x509ca/office.pem");
    }

    @Test
    void aPartThatIsNamedAndDidNotComeIsToldByItsLine() {
        Map<String, byte[]> without = beside();
        without.remove("office.pem");

        assertThatThrownBy(() -> IkeProfile.of(SECTION, without))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("office.pem");
    }
}
