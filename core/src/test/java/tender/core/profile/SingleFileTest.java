package tender.core.profile;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class SingleFileTest {
    private static final Path CORPUS = Path.of("src/test/resources/corpus/openvpn");

    @ParameterizedTest
    @ValueSource(strings = {"good.ovpn", "tls-auth.ovpn", "crypt-v2.ovpn", "pkcs12-inline.ovpn"})
    void takenApartAndPutTogetherItSaysTheSame(String name) throws Exception {
        OpenVpnFile whole =
                OpenVpnFile.read(Files.readString(CORPUS.resolve(name))).file();

        Map.Entry<OpenVpnFile, Map<String, byte[]>> apart = SingleFile.separated(whole, "mara");
        OpenVpnFile again = SingleFile.inlined(apart.getKey(), apart.getValue());

        assertThat(apart.getKey().text()).doesNotContain("<");
        assertThat(apart.getValue()).isNotEmpty();
        assertThat(again.text()).isEqualTo(whole.text());
    }

    @Test
    void theDirectionOfAnAuthKeyGoesAlong() {
        OpenVpnFile file = OpenVpnFile.read("client\ntls-auth keys/wrap.key 1\nca missing.crt\n")
                .file();

        OpenVpnFile whole = SingleFile.inlined(file, Map.of("wrap.key", "KEY\n".getBytes(StandardCharsets.UTF_8)));

        assertThat(whole.text()).isEqualTo("client\n<tls-auth>\nKEY\n</tls-auth>\nca missing.crt\nkey-direction 1\n");
    }

    @Test
    void aChangedBlockLeavesTheOthersAsTheyWere() {
        String text = "client\r\n<ca>\r\nA\r\n</ca>\r\nremote x 1\r\n<key>\r\nB\r\n</key>\r\n";
        OpenVpnFile file = OpenVpnFile.read(text).file();

        assertThat(file.withBlock("ca", "C").text()).isEqualTo(text.replace("A", "C"));
        assertThat(file.without(d -> d.name().equals("ca")).text())
                .isEqualTo("client\r\nremote x 1\r\n<key>\r\nB\r\n</key>\r\n");
        assertThat(file.with("ca", "ca.crt").text()).isEqualTo(text.replace("<ca>\r\nA\r\n</ca>", "ca ca.crt"));
    }

    @Test
    void sectionsAreReadHoweverTheyStand() {
        SectionFile file = SectionFile.read(
                "connections { a { version = 2 } } # comment }\nsecrets {\n  x { secret = \"a # b\" }\n}\n");

        assertThat(file.first("secret", "secrets", "*").orElseThrow().value()).isEqualTo("a # b");
        assertThat(SectionFile.read("a {\n b {\n}\n").problems()).hasSize(1);
        assertThat(SectionFile.read("}\n").problems()).hasSize(1);
        assertThat(SectionFile.read("{ ".repeat(100)).problems()).isNotEmpty();
    }
}
