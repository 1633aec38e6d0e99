package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.credential.TunnelKeyPair;
import tender.standins.office.SmallOffice;

/** A Debian machine with several VPN servers is recognised, read as its own programs show it, and changed without cutting anybody. */
class DebianMachineTest {
    private static final String ALL = "linux-wireguard+linux-openvpn+linux-ipsec+linux-network+linux-nftables";

    @TempDir
    Path folder;

    private final TunnelKeyPair server = TunnelKeyPair.generate(new SecureRandom());
    private SmallOffice office;
    private Tender tender;
    private DebianMachine machine;

    @BeforeEach
    void open() throws Exception {
        Namespace.needWireGuard();
        String lacking = DebianMachine.lacking();
        if (!lacking.isEmpty()) {
            System.out.println("SKIPPED: " + lacking + " here");
        }
        assumeTrue(lacking.isEmpty());
        office = SmallOffice.start(folder.resolve("office"), "127.10.108.1");
        Shell.keyPair(folder.resolve("key"));
        machine = new DebianMachine(folder.resolve("machine"), 14, server, folder.resolve("key"));
        tender = new Tender(folder, office);
    }

    @AfterEach
    void close() throws Exception {
        if (machine != null) {
            tender.close();
            machine.close();
            office.close();
        }
    }

    @Test
    void itIsRecognisedReadAndChanged() throws Exception {
        tender.client(
                "gateway",
                "add",
                "depot",
                "--address",
                machine.address(),
                "--port",
                Integer.toString(DebianMachine.SSH),
                "--user",
                "root",
                "--key-file",
                folder.resolve("key").toString(),
                "--endpoint",
                machine.address(),
                "--identity",
                machine.identity());
        Shell.until(
                "the first reading to say what the machine looks like",
                Duration.ofSeconds(20),
                () -> tender.client("gateway", "show", "depot").contains("it looks like " + ALL));
        assertThat(tender.client("gateway", "recognise", "depot"))
                .contains("--description " + ALL, "/etc/wireguard/*.conf");

        aDescriptionIsCheckedBeforeItCounts();

        // in another order: each listener is reloaded by the command of its own part, whatever stands first
        tender.client(
                "gateway",
                "set",
                "depot",
                "--description",
                "linux-ipsec+linux-openvpn+linux-wireguard+linux-network+linux-nftables");
        tender.client("gateway", "read", "depot");

        JsonNode facts = tender.json("gateway", "facts", "depot");
        readAsItsProgramsShowIt(facts);
        aPeerIsAddedAndLetIn();
    }

    /** Whether its files are there can be seen before an owner approves it; its commands are not run. */
    private void aDescriptionIsCheckedBeforeItCounts() throws Exception {
        String own = Files.readString(Shell.ROOT.resolve("io/src/main/resources/tender/devices/linux-wireguard.yaml"))
                .replace("description: linux-wireguard", "description: own-machine");
        tender.client(
                "description",
                "put",
                Files.writeString(
                                folder.resolve("own.yaml"),
                                own + "outputs:\n  - run: touch /tmp/was-run-" + machine.address()
                                        + "\n    format: timedatectl\n")
                        .toString());
        assertThat(tender.client("description", "check", "own-machine", "--gateway", "depot"))
                .contains("own-machine fits depot", "found    /etc/wireguard/*.conf")
                .doesNotContain("touch");
        assertThat(Path.of("/tmp/was-run-" + machine.address())).doesNotExist();

        tender.client(
                "description",
                "put",
                Files.writeString(folder.resolve("own.yaml"), own.replace("/etc/wireguard/", "/etc/wiregard/"))
                        .toString());
        Shell.Result wrong = tender.tryClient("description", "check", "own-machine", "--gateway", "depot");
        assertThat(wrong.out()).contains("does not fit", "missing  /etc/wiregard/*.conf");
        assertThat(wrong.code()).isEqualTo(1);
    }

    private void readAsItsProgramsShowIt(JsonNode facts) {
        assertThat(names(facts.path("listeners"))).containsExactly("office", "staff", "wg0");
        assertThat(machine.in("swanctl --list-conns")).contains("office:", "to-head-office:"); // which waits for nobody
        assertThat(facts.toString())
                .contains(machine.in("wg show wg0 public-key").strip())
                .contains("Europe/Dublin", "tcp 8443 to 10.20.9.5 port 443", "10.20.9.1/24");
    }

    private void aPeerIsAddedAndLetIn() throws Exception {
        tender.client("person", "add", "mara", "--name", "Mara Quill");
        tender.client("device", "add", "mara", "laptop", "--kind", "laptop");
        tender.client("profile", "issue", "mara", "laptop", "--gateway", "depot", "--listener", "wg0");

        assertThat(machine.in("wg show wg0 peers").lines()).hasSize(1);
        assertThat(machine.read("wireguard/wg0.conf")).contains("# set by hand");
        assertThat(machine.read("systemctl.log").lines().skip(3)).containsExactly("reload wg-quick@wg0");
        assertThat(tender.client("trial", "run", "mara-laptop-depot")).contains("connects");
    }

    private static List<String> names(JsonNode list) {
        List<String> out = new ArrayList<>();
        list.forEach(l -> out.add(l.path("name").asText()));
        return out.stream().sorted().toList();
    }
}
