package tender.core.device;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.office.Release;
import tender.core.profile.OpenVpnFile;
import tender.core.wire.MalformedException;

/** The forms of a device's files: read as documented, written back byte for byte, changed only where meant. */
class FileFormsTest {
    private static final String SERVER = """
            # a server
            port 1194   ; the usual
            push "route 10.20.2.0 255.255.255.0"
            setenv NAME 'a \\ b "c"'
            setenv OTHER "a \\" b"
            <ca>
            port 9999
            </ca>
            unknown-thing  with   words
            """;

    @Test
    void wordsQuotesCommentsAndBlocksAreReadAsDocumented() {
        OpenVpnFile file = OpenVpnFile.read(SERVER).file();

        assertThat(file.last("port").orElseThrow().words()).containsExactly("1194");
        assertThat(file.last("push").orElseThrow().words()).containsExactly("route 10.20.2.0 255.255.255.0");
        assertThat(file.all("setenv").get(0).words()).containsExactly("NAME", "a \\ b \"c\"");
        assertThat(file.all("setenv").get(1).words()).containsExactly("OTHER", "a \" b");
        assertThat(file.last("unknown-thing").orElseThrow().line()).isEqualTo(9);
        assertThat(file.text()).isEqualTo(SERVER);
    }

    @Test
    void oneChangedDirectiveIsTheOnlyChangedLine() {
        String changed = OpenVpnFile.read(SERVER).file().with("port", "443").text();

        assertThat(changed).isEqualTo(SERVER.replace("port 1194   ; the usual", "port 443"));
        assertThat(OpenVpnFile.read(SERVER).file().with("local", "192.0.2.1").text())
                .isEqualTo(SERVER + "local 192.0.2.1\n");
    }

    @ParameterizedTest
    @ValueSource(strings = {"port \"1194", "port '1194", "port 1194\\", "<ca>\nx"})
    void whatIsNotClosedIsAProblemWithItsLine(String line) {
        OpenVpnFile.Reading reading = OpenVpnFile.read("proto udp\n" + line + "\n");

        assertThat(reading.problems())
                .singleElement()
                .satisfies(p -> assertThat(p.line()).isEqualTo(2));
        assertThat(reading.file().text()).isEqualTo("proto udp\n" + line + "\n");
    }

    @Test
    void noInputMakesAReaderFailOtherwiseThanByItsOwnWord() {
        Random random = new Random(11);
        for (int round = 0; round < 20_000; round++) {
            StringBuilder text = new StringBuilder(SERVER);
            for (int i = 0; i < 1 + random.nextInt(6); i++) {
                text.setCharAt(random.nextInt(text.length()), (char) random.nextInt(256));
            }
            assertThat(OpenVpnFile.read(text.toString()).file().text()).isEqualTo(text.toString());
            try {
                PairsFile.parse(text.toString());
            } catch (MalformedException e) {
                assertThat(e.place()).startsWith("line ");
            }
        }
    }

    @Test
    void aTemplateReadsAndWrites() {
        LineTemplate t = LineTemplate.parse("pass {transport} {port} to {to}");
        Map<String, String> values =
                t.match("  pass  udp 1194   to 10.20.2.5   # the NAS ").orElseThrow();

        assertThat(values)
                .containsEntry("transport", "udp")
                .containsEntry("port", "1194")
                .containsEntry("label", "the NAS");
        assertThat(t.print(values)).isEqualTo("pass udp 1194 to 10.20.2.5  # the NAS");
        assertThat(t.match("pass udp 1194 at 10.20.2.5")).isEmpty();
        assertThat(t.match("pass udp 1194 to")).isEmpty();
        assertThatThrownBy(() -> t.print(Map.of("transport", "udp", "port", "1 2", "to", "x")))
                .isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> LineTemplate.parse("{a} {b}")).isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> LineTemplate.parse("x; {b}")).isInstanceOf(MalformedException.class);
    }

    @Test
    void recordsThatStayKeepTheirVeryLines() {
        Map<String, LineTemplate> templates = Map.of("pass", LineTemplate.parse("pass {port}"));
        LinesFile file = LinesFile.parse(templates, "# top\npass   1   # one\n# middle\npass 2\nelse\n");
        List<Map<String, String>> records =
                file.entries("pass").stream().map(LinesFile.Entry::values).toList();

        assertThat(file.withRecords("pass", records).text()).isEqualTo(file.text());
        assertThat(file.withRecords("pass", List.of(records.get(1))).text())
                .isEqualTo("# top\npass 2\n# middle\nelse\n");
        assertThat(file.withRecords("pass", List.of(records.get(0), Map.of("port", "9", "label", ""), records.get(1)))
                        .text())
                .isEqualTo("# top\npass   1   # one\n# middle\npass 9\npass 2\nelse\n");
        assertThat(LinesFile.parse(templates, "# none\n")
                        .withRecords("pass", records)
                        .text())
                .isEqualTo("# none\npass 1  # one\npass 2\n");
    }

    @Test
    void aPairIsSetWhereItStandsElseAtTheEnd() {
        PairsFile file = PairsFile.parse("# a\nport = 1\nname = \"x y\"\nport = 2\n");

        assertThat(file.values()).containsEntry("port", "2").containsEntry("name", "x y");
        assertThat(file.with("port", "3").text()).isEqualTo("# a\nport = 1\nname = \"x y\"\nport = 3\n");
        assertThat(file.with("new", "4").text()).isEqualTo(file.text() + "new = 4\n");
    }

    @ParameterizedTest
    @CsvSource({"3.2.0, 3.10.1, -1", "7.1, 7.1.0, 0", "6.9, 7.1, -1", "11.4.2-b, 11.4.2-a, 1", "4, 3.9.9, 1"})
    void releasesCompareByTheirNumbers(String one, String other, int sign) {
        assertThat(Integer.signum(Release.compare(one, other))).isEqualTo(sign);
        assertThat(Integer.signum(Release.compare(other, one))).isEqualTo(-sign);
    }

    @Test
    void aStatusFileGivesWhoIsConnected() {
        String text = "HEADER\tCLIENT_LIST\tCommon Name\tReal Address\tVirtual Address\tBytes Received\tBytes Sent\t"
                + "Connected Since (time_t)\nCLIENT_LIST\tmara\t192.0.2.1:5\t10.99.0.2\t7\t8\t1795424400\n";

        assertThat(OpenVpnStatus.parse(text)).singleElement().satisfies(c -> {
            assertThat(c.name()).isEqualTo("mara");
            assertThat(c.sent()).isEqualTo(8);
        });
        assertThatThrownBy(() -> OpenVpnStatus.parse(text.replace("\t7\t", "\tx\t")))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("line 2");
    }
}
