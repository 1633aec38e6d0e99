package tender.core.inspect;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.SectionFile;
import tender.core.profile.WireGuardFile;

/**
 * Every file of the corpus and what is said of it, in {@code corpus/expected.tsv}; {@code -Dwrite.table=true} writes that
 * table anew, to be read before it is kept.
 */
class CorpusTest {
    static final Path CORPUS = Path.of("src/test/resources/corpus");
    private static final Path TABLE = CORPUS.resolve("expected.tsv");
    private static final Instant NOW = Instant.parse("2026-11-23T12:00:00Z");

    static List<Path> files() {
        try (Stream<Path> all = Files.walk(CORPUS)) {
            return all.filter(Files::isRegularFile)
                    .filter(f -> !f.equals(TABLE))
                    .sorted()
                    .toList();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static Inspection look(Path file, String passphrase) throws IOException {
        return Inspector.of(
                file.getFileName().toString(), Files.readAllBytes(file), NOW, Optional.ofNullable(passphrase));
    }

    private static String row(Path file) throws IOException {
        Inspection i = look(file, null);
        List<String> codes = new ArrayList<>();
        i.allNotes().forEach(n -> codes.add(n.hint().code() + (n.line() == 0 ? "" : ":" + n.line())));
        List<String> facts = new ArrayList<>();
        facts(i, facts);
        return String.join(
                "\t",
                CORPUS.relativize(file).toString(),
                i.kind().word(),
                String.join(" ", codes),
                String.join(" | ", facts),
                Judgement.of(List.of(i)).words(),
                i.allNotes().stream()
                        .filter(n -> n.hint() == Hint.UNREAD || n.hint().code().startsWith("archive"))
                        .map(Inspection.Note::detail)
                        .collect(Collectors.joining("; ")));
    }

    private static void facts(Inspection i, List<String> out) {
        i.facts().forEach(f -> out.add(f.label() + ": " + f.value()));
        i.parts().forEach(p -> {
            out.add("[" + p.name() + " " + p.kind().word() + "]");
            facts(p, out);
        });
    }

    @Test
    void everyFileIsToldAsInTheTable() throws IOException {
        List<String> rows = new ArrayList<>();
        for (Path file : files()) {
            rows.add(row(file));
        }
        if (Boolean.getBoolean("write.table")) {
            Files.write(TABLE, rows);
        }
        assertThat(rows).hasSizeGreaterThan(60).containsExactlyElementsOf(Files.readAllLines(TABLE));
    }

    @ParameterizedTest
    @MethodSource("files")
    void whatIsReadIsWrittenBackByteForByte(Path file) throws IOException {
        byte[] content = Files.readAllBytes(file);
        String text = new String(content, StandardCharsets.ISO_8859_1);
        assertThat(OpenVpnFile.read(text).file().text()).isEqualTo(text);
        assertThat(SectionFile.read(text).text()).isEqualTo(text);
        assertThat(WireGuardFile.read(text).file().text()).isEqualTo(text);
    }

    @Test
    void aPassphraseOpensWhatIsLockedAndAnotherDoesNot() throws IOException {
        for (String name : List.of("p12/modern.p12", "p12/legacy.p12", "openvpn/pkcs12-inline.ovpn")) {
            assertThat(look(CORPUS.resolve(name), "harbour").certificates())
                    .as(name)
                    .extracting(c -> c.commonName())
                    .contains("Mara Quillfeather", "Skerrivane Ferries CA");
            assertThat(look(CORPUS.resolve(name), "harbor").asksPassphrase())
                    .as(name)
                    .isTrue();
        }
        for (String name :
                List.of("pem/locked.key", "pem/locked-scrypt.key", "pem/locked-3des.key", "pem/locked-old-form.key")) {
            assertThat(look(CORPUS.resolve(name), "harbour").facts())
                    .as(name)
                    .extracting(Inspection.Fact::label)
                    .contains("key");
            assertThat(look(CORPUS.resolve(name), "harbor").facts()).as(name).isEmpty();
        }
    }

    @Test
    void aChangeTouchesTheLinesMeantAndNoOther() throws IOException {
        String crlf = Files.readString(CORPUS.resolve("openvpn/good-crlf.ovpn"), StandardCharsets.ISO_8859_1);
        String changed = OpenVpnFile.read(crlf)
                .file()
                .with("remote", "slip.skerrivane.example", "443", "tcp")
                .text();
        assertThat(changed)
                .isEqualTo(
                        crlf.replace("remote orrin.skerrivane.example 1195", "remote slip.skerrivane.example 443 tcp"));
        String without = OpenVpnFile.read(crlf)
                .file()
                .without(d -> d.name().equals("tls-crypt"))
                .text();
        assertThat(without).isEqualTo(crlf.replaceAll("(?s)<tls-crypt>.*</tls-crypt>\r\n", ""));
        String ike = Files.readString(CORPUS.resolve("ike/good.conf"));
        SectionFile file = SectionFile.read(ike);
        assertThat(file.with(file.first("remote_addrs", "connections", "*").orElseThrow(), "192.0.2.4")
                        .text())
                .isEqualTo(ike.replace("orrin.skerrivane.example\n    vips", "192.0.2.4\n    vips"));
    }

    /** Keys of WireGuard, private keys in PEM, OpenVPN's static keys, secrets and passwords that stand in a file. */
    private static List<String> secrets(String text) {
        List<String> out = new ArrayList<>();
        Matcher keys = Pattern.compile("(?:PrivateKey|PresharedKey) = (\\S+)").matcher(text);
        while (keys.find()) {
            out.add(keys.group(1));
        }
        Matcher blocks = Pattern.compile(
                        "(?s)-----BEGIN (?:[A-Z ]*PRIVATE KEY|OpenVPN Static key V1|OpenVPN tls-crypt-v2[a-z ]*)-----(.*?)-----END")
                .matcher(text);
        while (blocks.find()) {
            blocks.group(1)
                    .lines()
                    .map(String::strip)
                    .filter(l -> l.length() >= 32)
                    .forEach(out::add);
        }
        Matcher words =
                Pattern.compile("(?m)^\\s*secret = \"?(\\S{6,}?)\"?\\s*$").matcher(text);
        while (words.find()) {
            out.add(words.group(1));
        }
        return out;
    }

    @Test
    void theCorpusHoldsSecretsOfEveryKind() throws IOException {
        int all = 0;
        for (Path file : files()) {
            all += secrets(new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1))
                    .size();
        }
        assertThat(all).isGreaterThan(100);
    }

    @Test
    void noSecretIsTold() throws IOException {
        for (Path file : files()) {
            String told = row(file);
            assertThat(told).as(file.toString()).doesNotContain("sea-breeze").doesNotContain("tide tables");
            secrets(new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1))
                    .forEach(secret -> assertThat(told).as(file.toString()).doesNotContain(secret));
        }
    }
}
