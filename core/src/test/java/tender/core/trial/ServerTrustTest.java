package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;

/** What a client makes of the certificates that a server shows. */
class ServerTrustTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final Instant NOW = Instant.parse("2026-11-23T12:00:00Z");
    private static final ServerTrust.Checks CHECKS =
            new ServerTrust.Checks(true, Optional.empty(), ServerTrust.NameForm.NAME, List.of());

    private static CertificateKey key() {
        return CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
    }

    private static byte[] server(Authority by, Instant until, List<String> names) {
        return by.sign(
                Authority.Purpose.SERVER, "orrin", names, key().publicKey(), NOW, until, Optional.empty(), RANDOM);
    }

    private static List<ServerTrust.Kind> faults(ServerTrust trust) {
        return trust.faults().stream().map(ServerTrust.Fault::kind).toList();
    }

    @Test
    void everyCertificateOfTheChainHasToBeInItsTime() {
        Instant year = NOW.plus(Duration.ofDays(365));
        Authority authority = Authority.make("Skerrivane Ferries", key(), NOW, NOW.plus(Duration.ofDays(2)), RANDOM);
        byte[] own = server(authority, year, List.of());
        List<byte[]> chain = List.of(own, authority.certificate());

        assertThat(faults(ServerTrust.of(chain, List.of(authority.certificate()), CHECKS, Optional.empty(), NOW)))
                .isEmpty();
        assertThat(faults(ServerTrust.of(
                        chain,
                        List.of(authority.certificate()),
                        CHECKS,
                        Optional.empty(),
                        NOW.plus(Duration.ofDays(3)))))
                .as("the one above has ended, the server's own has not")
                .contains(ServerTrust.Kind.ENDED);
        assertThat(faults(ServerTrust.of(
                        chain,
                        List.of(authority.certificate()),
                        CHECKS,
                        Optional.empty(),
                        NOW.minus(Duration.ofDays(9)))))
                .contains(ServerTrust.Kind.NOT_YET);
    }

    @Test
    void theRecordedNameMayStandAmongTheAlternativeNames() {
        Authority authority = Authority.make("Skerrivane Ferries", key(), NOW, NOW.plus(Duration.ofDays(30)), RANDOM);
        List<byte[]> chain = List.of(server(
                authority,
                NOW.plus(Duration.ofDays(20)),
                List.of("vpn.skerrivane.example", "orrin.skerrivane.example")));

        for (String name : List.of("orrin", "Orrin.Skerrivane.example", "vpn.skerrivane.example")) {
            assertThat(faults(ServerTrust.of(chain, List.of(authority.certificate()), CHECKS, Optional.of(name), NOW)))
                    .as(name)
                    .isEmpty();
        }
        assertThat(faults(ServerTrust.of(
                        chain, List.of(authority.certificate()), CHECKS, Optional.of("other.skerrivane.example"), NOW)))
                .containsExactly(ServerTrust.Kind.OTHER_NAME);
    }
}
