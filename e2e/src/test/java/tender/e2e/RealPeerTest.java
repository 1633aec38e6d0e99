package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.standins.office.SmallOffice;

/** Both ends against Debian's own WireGuard, in network namespaces made here. */
class RealPeerTest {
    private static final int WAIT_SECONDS = 15;

    @TempDir
    Path folder;

    @BeforeAll
    static void canRun() {
        Namespace.needWireGuard();
    }

    @Test
    void aRealClientConnectsWithTheCollectedFileAndPingsTheInsideHost() throws Exception {
        try (Namespace phone = Namespace.make("tdr-c" + ProcessHandle.current().pid() % 1000, 7);
                SmallOffice office = SmallOffice.start(folder.resolve("office"), phone.outside());
                Tender tender = new Tender(folder, office)) {
            tender.addRouter(office, "mara", "phone");
            tender.client("profile", "issue", "mara", "phone", "--gateway", "pier2");
            String file =
                    Files.readString(tender.collect("mara-phone-pier2")).replace(SmallOffice.NAME, phone.outside());
            Path config = Files.writeString(folder.resolve("wg.conf"), Namespace.forWg(file));
            String address = file.lines()
                    .filter(l -> l.startsWith("Address"))
                    .findFirst()
                    .orElseThrow()
                    .replaceAll(".*= ", "");

            Shell.Result up = phone.in(
                    "wireguard-go tdrc0 && wg setconf tdrc0 " + config + " && ip addr add " + address
                            + " dev tdrc0 && ip link set tdrc0 up && ip route add 10.20.4.0/24 dev tdrc0 && ip route add 10.99.4.0/24 dev tdrc0");
            assertThat(up.code()).as(up.out()).isZero();

            Shell.Result ping = phone.in("for i in $(seq " + WAIT_SECONDS + "); do ping -c 2 -W 1 "
                    + SmallOffice.INSIDE_HOST + " && exit 0; done; exit 1");
            assertThat(ping.code()).as(ping.out()).isZero();
            Shell.until(
                    "the session to be seen",
                    Duration.ofSeconds(20),
                    () -> tender.client("session", "list", "--json").contains("\"profile\" : \"mara-phone-pier2\""));
            assertThat(phone.in("ping -c 1 -W 1 10.20.4.99").code())
                    .as("a host that is not there stays silent")
                    .isEqualTo(1);
        }
    }

    @Test
    void aTrialProvesARealServerWithATenderIssuedProfile() throws Exception {
        try (Namespace inside = Namespace.make("tdr-s" + ProcessHandle.current().pid() % 1000, 8);
                SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.75.1");
                Tender tender = new Tender(folder, office)) {
            tender.addRouter(office, "mara", "phone");
            tender.client("profile", "issue", "mara", "phone", "--gateway", "pier2");
            Path file = tender.collect("mara-phone-pier2");
            Path server = Files.writeString(
                    folder.resolve("server.conf"), Namespace.forWg(Files.readString(office.tunnelFile())));
            office.router().close();

            // the daemon's socket stays here on the very port, its device goes to the namespace: echo can only pass the
            // tunnel
            Shell.Result up = Shell.run(
                    Map.of(),
                    Duration.ofSeconds(20),
                    List.of(
                            "bash",
                            "-c",
                            "{ wireguard-go -f tdrs0 >/dev/null 2>&1 & echo $! > " + folder.resolve("server.pid")
                                    + "; }; for i in $(seq 50); do wg show tdrs0 >/dev/null 2>&1 && break; sleep 0.1; done; wg setconf tdrs0 "
                                    + server + " && ip link set tdrs0 netns " + inside.name()
                                    + " && ip -n " + inside.name() + " addr add 10.99.4.1/24 dev tdrs0 && ip -n "
                                    + inside.name() + " addr add "
                                    + SmallOffice.INSIDE_HOST + "/32 dev lo && ip -n " + inside.name()
                                    + " link set tdrs0 up"));
            try {
                assertThat(up.code()).as(up.out()).isZero();
                Shell.Result[] trial = new Shell.Result[1];
                Shell.until("the device to come up", Duration.ofSeconds(WAIT_SECONDS), () -> {
                    trial[0] = tender.tryClient(
                            "trial",
                            "run",
                            "--file",
                            file.toString(),
                            "--inside-host",
                            SmallOffice.INSIDE_HOST,
                            "--resolver",
                            "127.0.0.1:" + office.names().port());
                    return trial[0].code() == 0;
                });
                assertThat(trial[0].out()).contains("inside host").contains("proven, rests on this very file");
                assertThat(inside.in("wg show tdrs0 latest-handshakes").out()).isNotBlank();
            } finally {
                Shell.run("bash", "-c", "kill $(cat " + folder.resolve("server.pid") + ")");
            }
        }
    }
}
