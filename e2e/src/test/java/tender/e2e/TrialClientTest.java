package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.standins.office.SmallOffice;

/** Trials, probes and rules for teams by the client's own words. */
class TrialClientTest {
    @TempDir
    Path folder;

    private static int freePort() throws IOException {
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            return free.getLocalPort();
        }
    }

    @Test
    void aTlsListenerIsProbedAtWithoutAnyService() throws Exception {
        int port = freePort();
        Path pem = folder.resolve("server");
        Shell.need(
                "bash",
                "-c",
                "openssl req -x509 -newkey rsa:2048 -nodes -days 30 -subj /CN=portal.skerrivane.example -keyout " + pem
                        + ".key -out " + pem + ".crt 2>/dev/null");
        Process server = new ProcessBuilder(
                        "openssl",
                        "s_server",
                        "-quiet",
                        "-accept",
                        "127.0.0.1:" + port,
                        "-cert",
                        pem + ".crt",
                        "-key",
                        pem + ".key")
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("server.out").toFile())
                .start();
        try {
            Shell.until("openssl to listen", Duration.ofSeconds(10), () -> {
                try (Socket probe = new Socket(InetAddress.getLoopbackAddress(), port)) {
                    return probe.isConnected();
                } catch (IOException e) {
                    return false;
                }
            });

            Shell.Result told = Shell.run("bin/tender", "trial", "run", "--tls", "127.0.0.1:" + port);
            Shell.Result json = Shell.run("bin/tender", "trial", "run", "--json", "--tls", "127.0.0.1:" + port);

            assertThat(told.code()).as(told.out()).isEqualTo(1);
            assertThat(told.out())
                    .contains(
                            "TLS 1.3, TLS 1.2",
                            "portal.skerrivane.example, until",
                            "self-signed",
                            "SHA-256 of the certificate",
                            "answers, not trusted")
                    .doesNotContain("proven", "does not answer");
            assertThat(json.out()).contains("\"verdict\" : \"answers, not trusted\"", "\"kind\" : \"identity\"");
        } finally {
            server.destroyForcibly();
        }
        Shell.Result shut = Shell.run("bin/tender", "trial", "run", "--tls", "127.0.0.1:" + freePort());
        assertThat(shut.code()).isEqualTo(1);
        assertThat(shut.out()).contains("nothing listens on that port", "does not answer");
        assertThat(Shell.run("bin/tender", "trial", "run", "--tls", "no place").code())
                .as("a wrong call")
                .isEqualTo(2);
        assertThat(Shell.run("bin/tender", "trial", "run", "--tls", "a.example", "--gateway", "b")
                        .code())
                .as("one thing at a time")
                .isEqualTo(2);
    }

    @Test
    void rulesForTeamsWantedAddressesListenersAndStaleFiles() throws Exception {
        try (SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.77.1");
                Tender tender = new Tender(folder, office)) {
            tender.addRouter(office, "mara", "phone");
            tender.client("person", "add", "signe", "--name", "Signe Askeland", "--team", "accounts");
            tender.client("device", "add", "signe", "laptop", "--kind", "laptop");

            assertThat(tender.client("grant", "list")).contains("every team gets what everyone gets");
            assertThat(tender.client(
                            "grant",
                            "set",
                            "pier2",
                            "--team",
                            "accounts",
                            "--reach",
                            "10.20.4.0/24",
                            "--days",
                            "90",
                            "--dry-run"))
                    .contains("accounts at pier2 wg0: 10.20.4.0/24, for 90 days");
            assertThat(tender.client("grant", "list")).contains("every team gets what everyone gets");
            tender.client("grant", "set", "pier2", "--team", "accounts", "--reach", "10.20.4.0/24", "--days", "90");
            tender.client("profile", "issue", "signe", "laptop", "--gateway", "pier2", "--address", "10.99.4.44");
            assertThat(tender.client("profile", "show", "signe-laptop-pier2"))
                    .contains("10.99.4.44", "10.20.4.0/24")
                    .doesNotContain("10.99.4.0/24");
            tender.client("grant", "drop", "pier2", "--team", "accounts");
            assertThat(tender.client("grant", "list")).contains("every team gets what everyone gets");
            assertThat(tender.tryClient("grant", "drop", "pier2", "--team", "accounts")
                            .code())
                    .as("it is gone")
                    .isNotZero();

            Shell.Result listener = tender.tryClient("trial", "run", "--gateway", "pier2");
            assertThat(listener.code()).as(listener.out()).isZero();
            assertThat(listener.out())
                    .contains(
                            "pier2 wg0, tried from the service: connects; reaches 10.20.4.20",
                            "proven, rests on a canary");

            tender.client("profile", "issue", "mara", "phone", "--gateway", "pier2");
            Path file = tender.collect("mara-phone-pier2");
            Path changed =
                    Files.writeString(folder.resolve("changed.conf"), Files.readString(file) + "\nObfuscate = yes\n");
            Shell.Result refused = tender.tryClient(
                    "trial",
                    "run",
                    changed.toString(),
                    "--inside-host",
                    SmallOffice.INSIDE_HOST,
                    "--resolver",
                    "127.0.0.1:" + office.names().port());
            assertThat(refused.code()).as(refused.out()).isEqualTo(1);
            assertThat(refused.out())
                    .contains("the client's program refuses the file, line")
                    .contains("connects; reaches 10.20.4.20", "not proven");
            Shell.Result mistyped = tender.tryClient("trial", "run", "mara-phnoe-pier2.conf");
            assertThat(mistyped.code()).isEqualTo(2);
            assertThat(mistyped.out()).contains("there is no such file: mara-phnoe-pier2.conf");
            tender.client("profile", "renew", "mara-phone-pier2");
            Shell.Result stale = tender.tryClient(
                    "trial",
                    "run",
                    file.toString(),
                    "--inside-host",
                    SmallOffice.INSIDE_HOST,
                    "--resolver",
                    "127.0.0.1:" + office.names().port());
            assertThat(stale.out()).contains("revision 1 of mara-phone-pier2, the newest is 2: hand that one out");
            Files.delete(file);
        }
    }
}
