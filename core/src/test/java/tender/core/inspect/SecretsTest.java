package tender.core.inspect;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.credential.TunnelKey;
import tender.core.profile.MaskedText;
import tender.core.trial.House;

/** Every secret of every file of the corpus, planted where something else belongs: nothing that is said of the file shows it. */
class SecretsTest {
    private static final Path CORPUS = Path.of("src/test/resources/corpus");
    private static final Instant NOW = House.NOW;

    /** How a secret gets to the wrong place: SECRET stands for it. */
    private static final List<String> WIREGUARD = List.of(
            "# note: SECRET",
            "PublicKey = SECRET",
            "Endpoint = SECRET:51820",
            "AllowedIPs = SECRET",
            "Address = SECRET",
            "DNS = SECRET",
            "MTU = SECRET",
            "SECRET = 1",
            "PostUp = echo SECRET",
            "PersistentKeepalive = SECRET",
            "SECRET");

    private static final List<String> OPENVPN = List.of(
            "# SECRET",
            "; password: SECRET",
            "remote SECRET 1194",
            "verify-x509-name SECRET name",
            "cipher SECRET",
            "up SECRET",
            "setenv SECRET 1",
            "SECRET",
            "auth SECRET",
            "plugin SECRET",
            "http-proxy SECRET 8080",
            "route SECRET",
            "\"SECRET",
            "<connection>\nremote SECRET\n</connection>",
            "ca SECRET",
            "tls-auth SECRET 1",
            "dhcp-option DNS SECRET");
    private static final List<String> SWANCTL = List.of(
            "# SECRET",
            "connections { x { remote_addrs = SECRET } }",
            "connections { x { local { id = SECRET } } }",
            "connections { x { updown = SECRET } }",
            "include SECRET",
            "SECRET",
            "connections { x { proposals = SECRET } }");

    static Stream<Path> files() throws IOException {
        List<Path> out = new ArrayList<>();
        for (String folder : List.of("wireguard", "openvpn", "ike")) {
            try (Stream<Path> all = Files.list(CORPUS.resolve(folder))) {
                all.sorted().forEach(out::add);
            }
        }
        return out.stream();
    }

    private static Set<String> secrets(String text) {
        Set<String> out = new LinkedHashSet<>();
        Pattern.compile("(?im)^\\s*(?:PrivateKey|PresharedKey|secret)\\s*=\\s*\"?([^\"\\s]{5,})")
                .matcher(text)
                .results()
                .forEach(m -> out.add(m.group(1)));
        Pattern.compile("(?s)<auth-user-pass>\\s*\\S+\\s+(\\S+)")
                .matcher(text)
                .results()
                .forEach(m -> out.add(m.group(1)));
        Pattern.compile("(?s)-----BEGIN (?:EC |RSA |ENCRYPTED )?PRIVATE KEY-----\\s+(\\S+)")
                .matcher(text)
                .results()
                .forEach(m -> out.add(m.group(1)));
        Pattern.compile("(?s)BEGIN OpenVPN Static key V1-----\\s+(\\S+)")
                .matcher(text)
                .results()
                .forEach(m -> out.add(m.group(1)));
        return out;
    }

    private static String said(Inspection i) {
        StringBuilder out = new StringBuilder(i.name());
        i.facts().forEach(f -> out.append('\n').append(f.label()).append(' ').append(f.value()));
        i.notes().forEach(n -> out.append('\n').append(n.detail()));
        i.parts().forEach(p -> out.append('\n').append(said(p)));
        return out.toString();
    }

    @ParameterizedTest
    @MethodSource("files")
    void noSecretIsToldFromAnyPlaceOfAFile(Path file) throws IOException {
        String text = new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1);
        List<String> places = file.toString().contains("wireguard")
                ? WIREGUARD
                : file.toString().contains("openvpn") ? OPENVPN : SWANCTL;
        List<String> texts = new ArrayList<>(List.of(text));
        Set<String> secrets = secrets(text);
        for (String secret : secrets) {
            for (String place : places) {
                texts.add(text + "\n" + place.replace("SECRET", secret) + "\n");
                texts.add(place.replace("SECRET", secret) + "\n" + text);
                texts.add(text.replaceFirst(
                        "(?m)^(\\[Peer].*)$",
                        "$1\n" + java.util.regex.Matcher.quoteReplacement(place.replace("SECRET", secret))));
            }
        }
        for (String changed : texts) {
            String said =
                    said(Inspector.of("a.conf", changed.getBytes(StandardCharsets.ISO_8859_1), NOW, Optional.empty()));
            String masked = String.join("\n", MaskedText.of(changed));
            for (String secret : secrets) {
                assertThat(said).as(changed).doesNotContain(secret);
                assertThat(masked).as(changed).doesNotContain(secret);
            }
        }
    }

    @Test
    void aKeyWithTheFormOfAPrivateOneIsKeptBackAlsoWhereItAloneStands() {
        String file =
                "[Interface]\nAddress = 10.9.0.2/32\n[Peer]\nPublicKey = yAnz5TF+lXXJte14tji3zlMNq+hd2rYUIgJBgB3fBmk=\n"
                        + "AllowedIPs = 10.0.0.0/8\nEndpoint = 192.0.2.7:51820\n";
        String publicKey =
                TunnelKey.parse("xTIBA5rboUvnH4htodjb6e697QjLERt1NAB4mZqp8Dg=").toString();

        assertThat(said(Inspector.of("a.conf", file.getBytes(StandardCharsets.UTF_8), NOW, Optional.empty())))
                .doesNotContain("yAnz5TF")
                .contains(MaskedText.KEPT_BACK);
        String other = file.replaceFirst("PublicKey = .*", "PublicKey = " + publicKey);
        assertThat(said(Inspector.of("a.conf", other.getBytes(StandardCharsets.UTF_8), NOW, Optional.empty())))
                .contains(publicKey);
    }
}
