package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.standins.exported.ExportedFiles;
import tender.standins.exported.OpenVpnDevice;
import tender.standins.office.SmallOffice;

/** A device whose authority nobody has: its files are requested, imported, handed out, revoked there and renewed. */
class FileRequestsTest {
    private static final int PORT = 11943;
    private static final List<String> PEOPLE =
            List.of("ana", "bo", "cleo", "dag", "eli", "finn", "gia", "hal", "ivo", "jon");

    @TempDir
    Path folder;

    private SmallOffice office;
    private Tender tender;

    @BeforeEach
    void open() throws Exception {
        assumeTrue(Shell.has("openvpn"), "no openvpn here");
        office = SmallOffice.start(folder.resolve("office"), "127.10.107.1");
        tender = new Tender(folder, office);
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        office.close();
    }

    @Test
    void tenColleaguesAreRequestedImportedHandedOutAndOneIsRevokedAtTheDevice() throws Exception {
        OpenVpnDevice device = new OpenVpnDevice(Instant.now().minusSeconds(60), "pier7.skerrivane.example");
        Files.write(folder.resolve("revoked.pem"), device.revocationList());
        Namespace server = Namespace.make("tdr-q" + ProcessHandle.current().pid() % 1000, 13);
        try (RealOpenVpn running = new RealOpenVpn(
                folder,
                server,
                PORT,
                device.end(),
                "proto udp\nserver 10.98.2.0 255.255.255.0\npush \"dhcp-option DNS 10.20.9.53\"\ncrl-verify "
                        + folder.resolve("revoked.pem") + "\n"
                        + ExportedFiles.block("tls-crypt", device.end().tlsCrypt()))) {
            story(device, server);
        }
    }

    private void story(OpenVpnDevice device, Namespace server) throws Exception {
        String remote = server.inside() + " " + PORT;
        Path first = Files.writeString(
                folder.resolve("mara-laptop.ovpn"), device.export("mara", remote, Duration.ofDays(100)));
        tender.client("import", first.toString(), "--name", "gateway-1=pier7", "--yes");
        people();

        assertThat(tender.tryClient("profile", "issue", "ana", "laptop", "--gateway", "pier7")
                        .out())
                .contains("tender request add pier7 PERSON/DEVICE");
        assertThat(tender.client("request", "add", "pier7", "--team", "crew", "--dry-run"))
                .contains("nothing was kept");
        assertThat(tender.client("request", "list")).contains("no client file is requested");
        assertThat(tender.client("request", "add", "pier7", "--team", "crew"))
                .contains("On pier7, create the users ana, bo, cleo, dag, eli, finn, gia, hal, ivo, jon");
        assertThat(tender.client("overview")).contains("10 client files to make at gateways");

        // his file is the laptop's, which was requested
        tender.client("device", "add", "bo", "phone", "--kind", "phone");
        Path archive = Files.write(folder.resolve("export.zip"), device.archive(PEOPLE, "YOUR_SERVER_IP " + PORT));
        String imported = tender.client("import", archive.toString(), "--yes");
        assertThat(imported).contains("10 of 10 client files imported").doesNotContain("(new)", "new people");
        assertThat(tender.client("request", "list")).contains("no client file is requested");
        for (String person : PEOPLE) {
            String label = person + "-laptop-pier7";
            Shell.until(
                    "the server to let " + label + " in",
                    Duration.ofSeconds(20),
                    () -> tender.tryClient("trial", "run", label).out().contains("connects"));
        }
        assertThat(Files.readString(tender.collect("jon-laptop-pier7"))).contains("remote " + remote);
        whatTrialsSawIsKnown();
        revokedThere(device);
        renewedThere(device, remote, archive);
    }

    private void people() throws Exception {
        Path list = Files.writeString(
                folder.resolve("people.csv"),
                "handle,name,team,device\n"
                        + PEOPLE.stream()
                                .map(p -> p + "," + p + " Quill,crew,laptop\n")
                                .collect(Collectors.joining()));
        tender.client("person", "import", list.toString());
    }

    private void whatTrialsSawIsKnown() {
        assertThat(tender.client("gateway", "facts", "pier7"))
                .containsPattern("certificate-expires +20.*\\(a trial, ")
                .containsPattern("dns +10.20.9.53 +\\(a trial, ")
                .containsPattern("tls-version +1\\.[23] +\\(a trial, ")
                .containsPattern("endpoint-address +10\\..* +\\(a trial, ")
                .containsPattern("ciphers +AES-256-GCM +\\(a trial, .*; client files, ");
        tender.client("gateway", "listener", "pier7", "openvpn", "--set", "dns=10.20.9.99");
        tender.client("trial", "run", "ana-laptop-pier7");
        assertThat(tender.tryClient("finding", "list", "--gateway", "pier7").out())
                .contains("dns: 10.20.9.99 (entered), 10.20.9.53 (a trial)");
        tender.client("gateway", "listener", "pier7", "openvpn", "--set", "dns=10.20.9.53");
        aChangeThatATrialSeesOtherwiseStaysOpen();
        assertThat(tender.tryClient("finding", "list", "--gateway", "pier7").out())
                .doesNotContain("(a trial)");
    }

    /** Whoever says that the name server is changed is answered by what the server really gives. */
    private void aChangeThatATrialSeesOtherwiseStaysOpen() {
        String asked =
                tender.client("change", "apply", "pier7", "--listener", "openvpn", "--set", "dns=10.20.9.77", "--yes");
        String change = asked.replaceAll("(?s).*tender instruction show ([0-9a-f]{8}).*", "$1");
        Shell.Result said = tender.tryClient("instruction", "done", change);
        assertThat(said.out()).contains("stays open", "a trial saw dns 10.20.9.53");
        assertThat(said.code()).isEqualTo(1);
        tender.client("instruction", "cancel", change);
    }

    private void revokedThere(OpenVpnDevice device) throws Exception {
        tender.client("profile", "withdraw", "bo-laptop-pier7", "--yes");
        assertThat(tender.client("overview")).contains("revoke the certificate");
        assertThat(tender.tryClient("instruction", "done", "bo-laptop-pier7").out())
                .contains("stays open", "still let in");

        device.revoke("bo");
        Path list = Files.write(folder.resolve("revoked.new"), device.revocationList());
        Files.move(list, folder.resolve("revoked.pem"), StandardCopyOption.REPLACE_EXISTING);

        assertThat(tender.client("instruction", "done", "bo-laptop-pier7")).contains("a trial shows that it is done");
        assertThat(tender.query("select state from profile p join device d on d.id = p.device_id"
                        + " join person n on n.id = d.person_id where n.handle = 'bo'"))
                .isEqualTo("withdrawn");
        assertThat(tender.client("trial", "run", "ana-laptop-pier7")).contains("connects"); // it refuses him alone
    }

    private void renewedThere(OpenVpnDevice device, String remote, Path before) throws Exception {
        assertThat(tender.client("request", "add", "pier7", "cleo"))
                .contains("make new certificates or keys for the user cleo");
        Path renewed =
                Files.writeString(folder.resolve("cleo.ovpn"), device.export("cleo", remote, Duration.ofDays(900)));
        assertThat(tender.client("import", renewed.toString(), "--yes")).contains("renewed");
        assertThat(tender.client("profile", "show", "cleo-laptop-pier7")).contains("revision   2", "revision   3");
        assertThat(tender.client("trial", "run", "cleo-laptop-pier7")).contains("connects");
        assertThat(Files.readString(tender.collect("cleo-laptop-pier7"))).isEqualTo(Files.readString(renewed));
        assertThat(tender.tryClient("import", before.toString(), "--yes").out()).contains("9 were there before");
        Path earlier =
                Files.writeString(folder.resolve("cleo-old.ovpn"), device.export("cleo", remote, Duration.ofDays(5)));
        assertThat(tender.tryClient("import", earlier.toString(), "--yes", "--assign", "cleo-old.ovpn=cleo/laptop")
                        .out())
                .contains("before the one that the profile has");
    }
}
