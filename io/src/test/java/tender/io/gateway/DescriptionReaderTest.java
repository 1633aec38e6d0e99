package tender.io.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.credential.Secret;
import tender.core.device.DeviceDescription;
import tender.core.device.DeviceDescription.Task;
import tender.core.device.DeviceFiles;
import tender.core.device.FileChanges;
import tender.core.device.SystemFacts;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.DeviceChange;
import tender.core.office.Drift;
import tender.core.office.FirewallChange;
import tender.core.office.ListenerChange;
import tender.core.wire.MalformedException;
import tender.standins.nas.NasFolder;

class DescriptionReaderTest {
    private static final String HEAD =
            "description: device\ntitle: A device\nfiles:\n  - path: /a.conf\n    format: kept\n";

    @TempDir
    Path folder;

    private static DeviceDescription read(String yaml) {
        return DescriptionReader.read(yaml.getBytes(StandardCharsets.UTF_8));
    }

    @Test
    void allThatShipCanBeRead() {
        assertThat(DescriptionReader.SHIPPED)
                .allSatisfy(name ->
                        assertThat(DescriptionReader.shipped(name).name()).isEqualTo(name));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "title: no name | description: is needed",
                "description: device\\ntitle: A\\nfiles: {} | a list is expected",
                "HEAD commands: {fly: up} | no such task",
                "HEAD commands: {apply: {sing: x}} | known here are: file",
                "HEAD commands: {apply: 'reload {name}'} | placeholders are",
                "HEAD commands: {log: {file: '../etc/passwd'}} | an absolute path",
                "HEAD extra: 1 | known here are",
                "description: device\\ntitle: A\\nfiles:\\n  - path: /a/../b\\n    format: kept | an absolute path",
                "description: device\\ntitle: A\\nfiles:\\n  - path: /a\\n    format: magic | pairs, lines",
                "description: device\\ntitle: A\\nfiles:\\n  - path: /a\\n    format: pairs\\n    keys: {range: tunnels} | no such meaning",
                "description: &a [*a] | YAML",
                "description: !!java.net.URL [x] | YAML"
            })
    void whatIsWrongIsSaidWithItsPlace(String yaml, String what) {
        assertThatThrownBy(() -> read(yaml.replace("HEAD ", HEAD).replace("\\n", "\n")))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining(what);
    }

    @Test
    void aBombOfAliasesAndDeepNestingAreRefused() {
        StringBuilder bomb = new StringBuilder("a: &a [x]\n");
        for (char c = 'b'; c < 'z'; c++) {
            bomb.append(c)
                    .append(": &")
                    .append(c)
                    .append(" [*")
                    .append((char) (c - 1))
                    .append(", *")
                    .append((char) (c - 1))
                    .append("]\n");
        }
        assertThatThrownBy(() -> read(bomb.toString())).isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> read("files: " + "[".repeat(20_000))).isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> read("x".repeat(DescriptionReader.MAX_BYTES + 1)))
                .isInstanceOf(MalformedException.class);
    }

    @ParameterizedTest
    @ValueSource(strings = {"a;reboot", "a b", "$(reboot)", "`x`", "a\nb", "../x", "", "-rf", "a'b", "a|b"})
    void aNameThatAShellWouldUnderstandNeverBecomesPartOfACommand(String name) {
        assertThatThrownBy(() -> DescriptionReader.shipped("office-nas")
                        .commands()
                        .get(Task.RESTART)
                        .run()
                        .orElseThrow()
                        .with(Map.of("listener", name)))
                .isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> DescriptionReader.shipped("linux-wireguard")
                        .rule(DeviceDescription.Format.WIREGUARD)
                        .orElseThrow()
                        .commands()
                        .get(Task.APPLY)
                        .with(Map.of("listener", name)))
                .isInstanceOf(MalformedException.class);
    }

    @Test
    void severalDescribeOneDeviceTogetherEachWithItsOwnCommands() {
        DeviceDescription both = DeviceDescription.together(List.of(
                DescriptionReader.shipped("plain-router"),
                DescriptionReader.shipped("linux-openvpn"),
                DescriptionReader.shipped("linux-network")));

        assertThat(both.name()).isEqualTo("plain-router+linux-openvpn+linux-network");
        assertThat(both.rule(DeviceDescription.Format.WIREGUARD).orElseThrow().commands())
                .containsOnlyKeys(Task.APPLY); // the router's reload, and for its own files alone
        assertThat(both.rule(DeviceDescription.Format.OPENVPN).orElseThrow().commands())
                .containsOnlyKeys(Task.RESTART);
        assertThat(both.commands()).doesNotContainKeys(Task.APPLY, Task.RESTART).containsKeys(Task.STATUS, Task.ARM);
        assertThat(both.outputs()).hasSize(3);
        assertThatThrownBy(() -> DeviceDescription.together(List.of(
                        DescriptionReader.shipped("linux-openvpn"), DescriptionReader.shipped("linux-openvpn"))))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("/etc/openvpn/server/*.conf");
    }

    private Map<String, byte[]> nas() throws Exception {
        NasFolder.layOut(folder.resolve("nas"));
        Map<String, byte[]> out = new TreeMap<>();
        for (String path :
                List.of("etc/device.conf", "etc/callers.list", "etc/vpn/openvpn.conf", "etc/vpn/l2tp.conf")) {
            out.put(path, Files.readAllBytes(folder.resolve("nas").resolve(path)));
        }
        return out;
    }

    private static Device device(DeviceDescription d, Map<String, byte[]> files) {
        return DeviceFiles.read(
                d,
                new DeviceFiles.Answers(
                        files, Optional.empty(), Optional.empty(), Optional.empty(), SystemFacts.NONE, Instant.EPOCH));
    }

    @Test
    void aDeviceOfItsOwnKindIsReadThroughItsDescriptionAlone() throws Exception {
        Device d = device(DescriptionReader.shipped("office-nas"), nas());

        assertThat(d.make() + " " + d.release()).isEqualTo("Holmgard 2.8");
        assertThat(d.filter().rules()).hasSize(5);
        assertThat(d.filter().rules().get(1).allow()).isFalse();
        assertThat(d.listeners().stream().map(l -> l.name() + " " + l.protocol().word()))
                .containsExactly("l2tp l2tp-ipsec", "openvpn openvpn");
        assertThat(d.listener("openvpn").orElseThrow().values())
                .containsEntry(Attribute.CIPHERS, "AES-256-GCM, BF-CBC")
                .containsEntry(Attribute.DIGEST, "SHA1")
                .containsEntry(Attribute.COMPRESSION, "yes")
                .containsEntry(Attribute.REACH, "10.20.2.0/24")
                .containsEntry(Attribute.LIMIT_TOTAL, "2")
                .containsEntry(Attribute.ACCOUNTS, "local");
        assertThat(d.accounts()).contains(new Device.Account("bram", true, true, false));
    }

    @Test
    void everyChangeTouchesOnlyTheLinesItMeans() throws Exception {
        DeviceDescription description = DescriptionReader.shipped("office-nas");
        Map<String, byte[]> files = nas();
        Device before = device(description, files);
        List<Change> changes = List.of(
                new ListenerChange.SetListener("openvpn", Map.of(Attribute.PORT, "1195", Attribute.COMPRESSION, "no")),
                new ListenerChange.SetListener(
                        "openvpn", Map.of(Attribute.DIGEST, "SHA256", Attribute.CIPHERS, "AES-256-GCM")),
                new ListenerChange.SetListener("openvpn", Map.of(Attribute.REACH, "10.20.2.0/24, 10.20.9.53/32")),
                new ListenerChange.SetListener("l2tp", Map.of(Attribute.LIMIT_TOTAL, "9")),
                new FirewallChange.MoveRule(3, 2),
                new DeviceChange.Demote("bram"));

        Map<String, Optional<byte[]>> fresh = FileChanges.of(description, files, before, changes, new SecureRandom());
        Map<String, byte[]> after = new TreeMap<>(files);
        fresh.forEach((path, content) -> after.put(path, content.orElseThrow()));

        assertThat(Drift.between(Change.apply(before, changes), device(description, after)))
                .isEmpty();
        String openvpn = new String(after.get("etc/vpn/openvpn.conf"), StandardCharsets.UTF_8);
        assertThat(openvpn)
                .startsWith("# written by the device's own page\nport 1195\n")
                .contains("keepalive 10 60\n");
        assertThat(openvpn).doesNotContain("comp-lzo").contains("push \"route 10.20.9.53 255.255.255.255\"");
        String list = new String(after.get("etc/callers.list"), StandardCharsets.UTF_8);
        assertThat(list.lines().toList().get(2)).isEqualTo("outside any : udp 1194 : open  # staff");
        assertThat(new String(after.get("etc/device.conf"), StandardCharsets.UTF_8))
                .contains("user_bram = vpn\n");
        assertThat(FileChanges.of(description, files, before, List.of(new DeviceChange.SetClock()), new SecureRandom()))
                .isEmpty();
    }

    @Test
    void droppedFilesAreReadAndNothingElse() throws Exception {
        SortedMap<String, byte[]> files = new TreeMap<>();
        files.put(
                "/etc/openvpn/server/crew.conf",
                "port 1194\nproto udp\nserver 10.99.7.0 255.255.255.0\n".getBytes(StandardCharsets.UTF_8));
        files.put("/etc/openvpn/server/notes.txt", new byte[] {1});
        Instant taken = Instant.parse("2026-11-02T08:00:00Z");
        FileConnector connector = new FileConnector(
                name -> Optional.of(new FileConnector.Files(files, taken)).filter(f -> name.equals("barge")));
        Target target = new Target(
                Host.parse("dropped-files"),
                new Port(22),
                "barge",
                new SignIn(SignIn.Method.KEY, Secret.of("")),
                Optional.of("dropped-files"),
                DescriptionReader.shipped("linux-openvpn"),
                true);
        try (ManagementConnection session = connector.open(target)) {
            assertThat(session.readAll().files()).containsOnlyKeys("etc/openvpn/server/crew.conf");
            assertThat(session.asOf(Instant.now())).isEqualTo(taken);
            assertThat(session.device(session.readAll(), Instant.now())
                            .listeners()
                            .get(0)
                            .name())
                    .isEqualTo("crew");
            assertThatThrownBy(session::reload)
                    .isInstanceOfSatisfying(
                            GatewayFailure.class, f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.NOT_CAPABLE));
        }
    }
}
