package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.standins.office.SmallOffice;

/**
 * A real wireguard-go server with the peers that Tender left in the gateway's file: whoever was withdrawn stays refused through
 * temporary changes, failed changes and a power cut, and whoever was issued meanwhile is let in.
 */
class StayOutTest {
    private static final Duration PATIENCE = Duration.ofSeconds(30);
    private static final String PORT = "51997";

    @TempDir
    Path folder;

    private SmallOffice office;
    private String inside;
    private String device;

    @BeforeAll
    static void canRun() {
        boolean able = Shell.has("wireguard-go")
                && Shell.has("wg")
                && Files.exists(Path.of("/dev/net/tun"))
                && Shell.run("bash", "-c", "ip netns add tender-so && ip netns del tender-so")
                                .code()
                        == 0;
        if (!able) {
            System.out.println("SKIPPED: no wireguard-go, wg, tun device or right to make network namespaces here");
        }
        assumeTrue(able);
    }

    /** Gives the real server what stands in the gateway's file now, as its own start would. */
    private void serve() throws Exception {
        Path server = folder.resolve("server.conf");
        Files.writeString(
                server,
                Files.readString(office.tunnelFile())
                        .replaceAll("(?m)^(Address|DNS|MTU) .*\n", "")
                        .replaceAll("(?m)^ListenPort.*", "ListenPort = " + PORT));
        Shell.need("wg", "setconf", device, server.toString());
    }

    private boolean isLetIn(Tender tender, Path file) throws Exception {
        Path moved = folder.resolve("moved.conf");
        Files.writeString(
                moved,
                Files.readString(file).replaceAll("(?m)^Endpoint.*", "Endpoint = " + office.address() + ":" + PORT));
        return tender.tryClient("trial", "run", moved.toString(), "--inside-host", SmallOffice.INSIDE_HOST)
                        .code()
                == 0;
    }

    private void assertStands(Tender tender, String when, Path leaver, Path newcomer) throws Exception {
        serve();
        assertThat(isLetIn(tender, newcomer))
                .as(when + ": the newcomer is let in")
                .isTrue();
        assertThat(isLetIn(tender, leaver)).as(when + ": the leaver is refused").isFalse();
    }

    private static void until(Tender tender, String what, String text) {
        Shell.until(
                what, PATIENCE, () -> tender.client("change", "list", "pier2").contains(text));
    }

    @Test
    void whoeverWasWithdrawnStaysRefusedByARealServer() throws Exception {
        String id = Long.toString(ProcessHandle.current().pid() % 1000);
        inside = "tdr-so" + id;
        device = "tdrso" + id;
        Path pid = folder.resolve("server.pid");
        try (SmallOffice here = SmallOffice.start(folder.resolve("office"), "127.10.86.1");
                Tender tender = new Tender(folder, here)) {
            office = here;
            tender.addRouter(office, "mara", "phone");
            tender.client("device", "add", "mara", "laptop", "--kind", "laptop");
            Shell.run("ip", "netns", "del", inside);
            Shell.need("ip", "netns", "add", inside);
            // the daemon's socket stays here, its device goes to the namespace: echo can only pass the tunnel
            Shell.need(
                    "bash",
                    "-c",
                    "ip -n %1$s link set lo up; { wireguard-go -f %2$s >/dev/null 2>&1 & echo $! >%3$s; }; for i in $(seq 50); do wg show %2$s >/dev/null 2>&1 && break; sleep 0.1; done; ip link set %2$s netns %1$s && ip -n %1$s addr add 10.99.4.1/24 dev %2$s && ip -n %1$s addr add %4$s/32 dev lo && ip -n %1$s link set %2$s up"
                            .formatted(inside, device, pid, SmallOffice.INSIDE_HOST));
            tender.client("profile", "issue", "mara", "phone", "--gateway", "pier2");
            Path leaver = tender.collect("mara-phone-pier2");
            serve();
            assertThat(isLetIn(tender, leaver)).as("before").isTrue();

            tender.client(
                    "change",
                    "apply",
                    "pier2",
                    "--forward",
                    "tcp:8080=10.20.4.20:80",
                    "--revert-after",
                    "30m",
                    "--yes");
            tender.client("profile", "withdraw", "mara-phone-pier2", "--yes");
            tender.client("profile", "issue", "mara", "laptop", "--gateway", "pier2");
            Path newcomer = tender.collect("mara-laptop-pier2");
            tender.client("change", "rollback", "pier2");
            until(tender, "the temporary change to return", "rolled-back");
            assertStands(tender, "after a temporary change", leaver, newcomer);

            office.router().faults().reloadFails = true;
            tender.tryClient("change", "apply", "pier2", "--forward", "tcp:8081=10.20.4.20:80", "--yes");
            office.router().faults().reloadFails = false;
            until(tender, "the change to fail", "failed");
            assertStands(tender, "after a change that failed", leaver, newcomer);

            tender.kill();
            tender.start();
            tender.moved();
            tender.client("gateway", "sync", "pier2");
            assertStands(tender, "after a power cut", leaver, newcomer);
            assertThat(tender.tryClient("finding", "list").out()).doesNotContain("withdrawn-still-active");
        } finally {
            Shell.run("bash", "-c", "kill $(cat " + pid + "); ip netns del " + inside);
        }
    }
}
