package tender.core.certificate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.security.SecureRandom;
import java.security.cert.CertificateFactory;
import java.security.cert.X509CRL;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import tender.core.certificate.CertificateFacts.Role;
import tender.core.wire.MalformedException;

/** What the authority signs, judged by the JDK's own certificate code. */
class AuthorityTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final Instant NOW = Instant.parse("2026-11-23T12:00:00Z");
    private static final Instant END = NOW.plus(Duration.ofDays(30));

    private final CertificateKey authorityKey = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
    private final Authority authority = Authority.make("Skerrivane Ferries", authorityKey, NOW, END, RANDOM);

    private byte[] sign(Authority.Purpose purpose, CertificateKey key, List<String> names) {
        return authority.sign(
                purpose, "orrin", names, key.publicKey(), NOW, END, Optional.of("http://x.example/l.crl"), RANDOM);
    }

    private static X509Certificate jdk(byte[] der) throws Exception {
        return (X509Certificate)
                CertificateFactory.getInstance("X.509").generateCertificate(new ByteArrayInputStream(der));
    }

    @ParameterizedTest
    @EnumSource(names = {"EC_P256", "RSA_2048", "ED25519"})
    void aServersCertificateHasItsNamesAndItsRoleAndNoMore(CertificateKey.Kind kind) throws Exception {
        byte[] der = sign(
                Authority.Purpose.SERVER,
                CertificateKey.generate(kind, RANDOM),
                List.of("orrin.skerrivane.example", "192.0.2.10", "2001:db8::10"));

        X509Certificate c = jdk(der);
        c.verify(jdk(authority.certificate()).getPublicKey());
        assertThat(c.getBasicConstraints()).as("is no authority").isEqualTo(-1);
        assertThat(c.getExtendedKeyUsage()).containsExactly("1.3.6.1.5.5.7.3.1");
        CertificateFacts facts = CertificateFacts.of(der);
        assertThat(facts.names()).containsExactly("orrin.skerrivane.example", "192.0.2.10", "2001:db8::10");
        assertThat(facts.role()).isEqualTo(Role.SERVER);
        assertThat(facts.isIssuedBy(CertificateFacts.of(authority.certificate())))
                .isTrue();
        assertThat(facts.starts()).as("clocks a little behind").isBefore(NOW);
    }

    @Test
    void serialNumbersAreLongAndNeverTheSame() {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        String one = CertificateFacts.of(sign(Authority.Purpose.CLIENT, key, List.of()))
                .serial();
        String other = CertificateFacts.of(sign(Authority.Purpose.CLIENT, key, List.of()))
                .serial();

        assertThat(one).hasSizeGreaterThan(30).isNotEqualTo(other);
    }

    @Test
    void severalThreadsSignAtOnce() {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);

        List<byte[]> all = IntStream.range(0, 600)
                .parallel()
                .mapToObj(n -> sign(Authority.Purpose.CLIENT, key, List.of("n" + n + ".skerrivane.example")))
                .toList();

        assertThat(all)
                .allSatisfy(der -> jdk(der).verify(jdk(authority.certificate()).getPublicKey()));
    }

    @Test
    void aListNamesTheRevokedItsNumberAndTheKey() throws Exception {
        byte[] der = authority.revocations(
                List.of(new Authority.Revoked("7f3a", NOW, 1)), 9, NOW, NOW.plus(Duration.ofDays(7)));

        X509CRL crl = (X509CRL) CertificateFactory.getInstance("X.509").generateCRL(new ByteArrayInputStream(der));
        crl.verify(jdk(authority.certificate()).getPublicKey());
        assertThat(crl.getRevokedCertificates()).hasSize(1);
        RevocationFacts facts = RevocationFacts.of(der);
        assertThat(facts.serials()).containsExactly("7f3a");
        assertThat(facts.number()).contains("9");
        assertThat(facts.namesKey()).isTrue();
    }

    @Test
    void anAuthorityIsTakenInWithItsOwnKeyOnly() {
        CertificateKey other = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        assertThat(Authority.of(authority.certificate(), authorityKey, RANDOM).key())
                .isEqualTo(authorityKey);
        assertThatThrownBy(() -> Authority.of(authority.certificate(), other, RANDOM))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("not the key of this certificate");
        byte[] client = sign(Authority.Purpose.CLIENT, other, List.of());
        assertThatThrownBy(() -> Authority.of(client, other, RANDOM)).hasMessageContaining("may sign no others");
    }

    @Test
    void aNameThatIsNoneIsRefused() {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        for (String name : List.of("", " ", "x".repeat(65), "bell\u0007")) {
            assertThatThrownBy(() -> authority.sign(
                            Authority.Purpose.CLIENT,
                            name,
                            List.of(),
                            key.publicKey(),
                            NOW,
                            END,
                            Optional.empty(),
                            RANDOM))
                    .isInstanceOf(MalformedException.class);
        }
    }

    @Test
    void aRequestGivesItsKeyOnlyWhereItIsSignedByIt() {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.ED25519, RANDOM);
        byte[] request = Authority.request("bram-laptop", key, RANDOM);
        assertThat(Authority.publicKeyOf(request)).isEqualTo(key.publicKey());
        request[request.length - 2] ^= 4;
        assertThatThrownBy(() -> Authority.publicKeyOf(request)).hasMessageContaining("not by its key");
    }

    @ParameterizedTest
    @EnumSource(KeyStoreFile.Form.class)
    void aKeyStoreOpensWithItsPassphraseAndNoOther(KeyStoreFile.Form form) {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        byte[] client = sign(Authority.Purpose.CLIENT, key, List.of());
        KeyStoreFile store = KeyStoreFile.of(
                KeyStoreFile.write(form, "Mara", key, List.of(client, authority.certificate()), "harbour é", RANDOM));

        assertThat(store.open("harbour")).isEmpty();
        KeyStoreFile.Opened opened = store.open("harbour é").orElseThrow();
        assertThat(opened.certificates()).containsExactlyInAnyOrder(client, authority.certificate());
        assertThat(opened.key().orElseThrow().digest()).isEqualTo(key.digest());
        assertThat(store.isLegacy()).isEqualTo(form == KeyStoreFile.Form.LEGACY);
    }

    @Test
    void pemIsReadWithWordsAroundItAndWrittenAsItWas() {
        String text = "Bag Attributes\n  friendlyName: x\n" + PemText.write("CERTIFICATE", authority.certificate())
                + "more words\n";
        PemText.Reading reading = PemText.read(text);

        assertThat(reading.problems()).isEmpty();
        assertThat(reading.blocks()).hasSize(1);
        assertThat(reading.blocks().get(0).der()).isEqualTo(authority.certificate());
        assertThat(reading.blocks().get(0).line()).isEqualTo(3);
        assertThat(PemText.read("-----BEGIN X-----\nAA\n-----END Y-----\n").problems())
                .hasSize(1);
        assertThat(PemText.read("-----BEGIN X-----\n!!!!\n-----END X-----\n")
                        .problems()
                        .get(0)
                        .line())
                .isEqualTo(1);
    }

    @Test
    void aRevocationListEnds() throws Exception {
        byte[] der = authority.revocations(List.of(), 7, NOW, NOW.plus(Duration.ofDays(30)));
        X509CRL list = (X509CRL) CertificateFactory.getInstance("X.509").generateCRL(new ByteArrayInputStream(der));
        assertThat(list.getNextUpdate().toInstant()).isEqualTo(NOW.plus(Duration.ofDays(30)));
    }
}
