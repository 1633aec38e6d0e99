package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.Assertions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Lines as real programs write them, row by row. */
class LogLineTest {
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "VERIFY ERROR: depth=0, error=certificate revoked: CN=gone, serial=42 | certificate-revoked",
                "VERIFY ERROR: depth=0, error=CRL has expired: CN=mara | revocation-list-expired",
                "VERIFY ERROR: depth=0, error=certificate has expired: CN=mara | certificate-expired",
                "VERIFY ERROR: depth=0, error=certificate is not yet valid: CN=mara | certificate-not-yet",
                "VERIFY ERROR: depth=0, error=unsuitable certificate purpose: CN=mara | certificate-use",
                "VERIFY ERROR: depth=0, error=unable to get local issuer certificate: CN=mara | foreign-authority",
                "VERIFY X509NAME ERROR: CN=vault, must be orrin | server-name-differs",
                "tls-crypt unwrap error: packet authentication failed | control-channel-key-differs",
                "TLS Error: cannot locate HMAC in incoming packet from [AF_INET]192.0.2.7:1194 | control-channel-key-differs",
                "Authenticate/Decrypt packet error: packet HMAC authentication failed | control-channel-key-differs",
                "TLS Error: Auth Username/Password was not provided by peer | password-wanted",
                "TLS Auth Error: Auth Username/Password verification failed for peer | password-refused",
                "AUTH: Received control message: AUTH_FAILED | password-refused",
                "Data channel cipher negotiation failed (no shared cipher) | cipher-mismatch",
                "received NO_PROPOSAL_CHOSEN notify error | cipher-mismatch",
                "OpenSSL: error:0A000102:SSL routines::unsupported protocol | tls-version",
                "TLS Error: TLS key negotiation failed to occur within 60 seconds | handshake-unfinished",
                "MULTI: no free --ifconfig-pool addresses are available | pool-full",
                "RESOLVE: Cannot resolve host address: nowhere.example | name-unknown",
                "TCP: connect to [AF_INET]192.0.2.7:443 failed: Connection refused | port-refused",
                "TCP/UDP: Socket bind failed on local address: Address already in use | port-taken",
                "received AUTHENTICATION_FAILED notify error | authentication-failed",
                "Handshake for peer 3 (192.0.2.7:51820) did not complete after 5 seconds, retrying (try 2) | handshake-unanswered"
            })
    void aLineSaysWhatHappened(String line, String code) {
        List<LogLine.Read> read = LogLine.read(List.of("2026-11-23 12:00:00 starting", line, "closing"));

        assertThat(read).singleElement().satisfies(r -> {
            assertThat(r.meaning().cause().code()).isEqualTo(code);
            assertThat(r.number()).isEqualTo(2);
        });
    }

    @Test
    void theSurestComesFirstAndAMeaningOnce() {
        List<LogLine.Read> read = LogLine.read(List.of(
                "SIGUSR1[soft,tls-error] received, process restarting",
                "VERIFY ERROR: depth=0, error=CRL has expired: CN=mara",
                "Sent fatal SSL alert: certificate expired",
                "VERIFY ERROR: depth=0, error=CRL has expired: CN=mara"));

        assertThat(read)
                .extracting(r -> r.meaning().cause().code())
                .containsExactly("revocation-list-expired", "certificate-expired", "connection-restarts");
        assertThat(read.get(0).number()).isEqualTo(4);
    }

    @Test
    void longAndHostileLogsTakeNoLongTime() {
        String hostile = "VERIFY ERROR " + "certificate ".repeat(5_000);

        Assertions.assertTimeout(
                Duration.ofSeconds(10),
                () -> assertThat(LogLine.read(java.util.Collections.nCopies(2_000, hostile)))
                        .isEmpty());
    }
}
