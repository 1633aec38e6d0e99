package tender.core.inspect;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import tender.core.certificate.Authority.Purpose;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.PemText;
import tender.core.trial.House;

/** What is said of single lines, of wrong parts, and of files in other forms. */
class OpenVpnNotesTest {
    private static final House.Pair MARA = House.signed(House.OURS, Purpose.CLIENT, "mara", -9, 90);
    private static final House.Pair SERVER = House.signed(House.OURS, Purpose.SERVER, "orrin", -9, 90);

    private static Inspection look(String name, byte[] content) {
        return Inspector.of(name, content, House.NOW, Optional.empty());
    }

    private static Inspection look(String text) {
        return look("office.ovpn", text.getBytes(StandardCharsets.UTF_8));
    }

    private static String file(byte[] authority, House.Pair own, String lines) {
        return "client\ndev tun\nremote vpn.skerrivane.example 1194\nremote-cert-tls server\n" + lines + "\n<ca>\n"
                + PemText.write("CERTIFICATE", authority) + "</ca>\n<cert>\n" + own.pem() + "</cert>\n<key>\n"
                + own.keyPem() + "</key>\n";
    }

    private static List<Hint> hints(Inspection i) {
        return i.allNotes().stream().map(Inspection.Note::hint).toList();
    }

    @ParameterizedTest
    @CsvSource({
        "up /etc/openvpn/up.sh, RUNS_PROGRAM",
        "plugin /tmp/x.so, LOADS_CODE",
        "providers legacy default, ",
        "providers legacy evil, LOADS_CODE",
        "engine dynamic, LOADS_CODE",
        "log /etc/passwd, WRITES_FILE",
        "management 127.0.0.1 7505, OPENS_CONTROL",
        "--up /tmp/x, RUNS_PROGRAM",
        "'\"up\" /tmp/x', RUNS_PROGRAM",
        "setenv opt plugin /tmp/x.so, LOADS_CODE",
        "setenv opt up /tmp/x, RUNS_PROGRAM",
        "setenv LD_PRELOAD /tmp/x.so, SETS_VARIABLE",
        "setenv PATH /tmp, SETS_VARIABLE",
        "setenv OPENSSL_CONF /tmp/x, SETS_VARIABLE",
        "setenv UV_ID 7, ",
        "setenv-safe colour blue, ",
        "tls-verify /tmp/x, RUNS_PROGRAM",
        "writepid /tmp/x, WRITES_FILE",
        "config other.ovpn, READS_OTHER",
        "tls-cert-profile insecure, CHECK_OFF",
        "tls-cert-profile legacy, CHECK_OFF",
        "tls-cert-profile preferred, ",
        "script-security 2, SCRIPTS_ALLOWED",
        "script-security 3, SCRIPTS_ALLOWED",
        "script-security 1, ",
        "auth none, CHECK_OFF",
        "auth SHA1, DIGEST_WEAK",
        "auth SHA256, ",
        "cipher none, CIPHER_NONE",
        "ncp-ciphers BF-CBC, CIPHER_WEAK",
        "tls-version-min 1.0, TLS_OLD",
        "tls-version-min 1.1, TLS_OLD",
        "tls-version-min 1.2, ",
        "comp-lzo, COMPRESSION_ON",
        "comp-lzo no, DEPRECATED",
        "compress lz4, COMPRESSION_ON",
        "compress migrate, DEPRECATED",
        "client-cert-not-required, CERTIFICATE_NOT_ASKED",
        "verify-client-cert none, CERTIFICATE_NOT_ASKED",
        "verify-client-cert require, REFUSED",
        "auth-user-pass, ",
        "auth-user-pass login.txt, PASSWORD_INSIDE",
        "askpass secret.txt, PASSWORD_INSIDE",
        "askpass, ",
        "redirect-gateway def1, REACH_LEAKS_V6",
        "redirect-gateway def1 ipv6, ",
        "http-proxy proxy.skerrivane.example 3128, ALL_THROUGH_PROXY",
        "keysize 256, DEPRECATED"
    })
    void oneLineIsToldByItsHint(String line, Hint hint) {
        Inspection bare = look(file(House.OURS.certificate(), MARA, "verb 3"));
        Inspection with = look(file(House.OURS.certificate(), MARA, line));
        List<Hint> more =
                hints(with).stream().filter(h -> !hints(bare).contains(h)).toList();
        if (hint == null) {
            assertThat(more).isEmpty();
        } else {
            assertThat(more).contains(hint);
            assertThat(with.notes()).filteredOn(n -> n.hint() == hint).allMatch(n -> n.line() == 5 || n.line() == 0);
        }
    }

    @Test
    void partsThatDoNotBelongTogetherAreTold() {
        assertThat(hints(look(file(House.OTHER.certificate(), MARA, "")))).contains(Hint.AUTHORITY_OTHER);
        assertThat(hints(look(file(House.OURS.certificate(), SERVER, "")))).contains(Hint.ROLE_WRONG);
        Inspection well = look(file(House.OURS.certificate(), MARA, ""));
        assertThat(hints(well)).doesNotContain(Hint.AUTHORITY_OTHER, Hint.ROLE_WRONG, Hint.AUTHORITY_MISSING);
        assertThat(well.certificates()).hasSize(2);
        String keyless = file(House.OURS.certificate(), MARA, "").replaceAll("(?s)<key>.*</key>\n", "");
        assertThat(hints(look(keyless))).contains(Hint.KEY_MISSING);
        String bare = "client\ndev tun\nremote vpn.skerrivane.example\nremote-cert-tls server\nproto udp\n";
        assertThat(hints(look(bare))).contains(Hint.AUTHORITY_MISSING, Hint.CERTIFICATE_MISSING);
    }

    @Test
    void aKeyStoreInsideGivesWhoItIsAndWhoSigned() {
        for (boolean withAuthority : new boolean[] {true, false}) {
            byte[] store = KeyStoreFile.write(
                    KeyStoreFile.Form.MODERN,
                    "mara",
                    MARA.key(),
                    withAuthority ? List.of(MARA.certificate(), House.OURS.certificate()) : List.of(MARA.certificate()),
                    "lantern",
                    House.RANDOM);
            String text = "client\ndev tun\nremote vpn.skerrivane.example\nremote-cert-tls server\n<pkcs12>\n"
                    + java.util.Base64.getMimeEncoder().encodeToString(store) + "\n</pkcs12>\n";
            Inspection opened = Inspector.of(
                    "office.ovpn", text.getBytes(StandardCharsets.UTF_8), House.NOW, Optional.of("lantern"));
            assertThat(opened.facts()).extracting(f -> f.label()).contains("person's certificate");
            assertThat(opened.facts().stream().anyMatch(f -> f.label().equals("authority")))
                    .isEqualTo(withAuthority);
            assertThat(opened.asksPassphrase()).isFalse();
            assertThat(look(text).asksPassphrase()).isTrue();
            assertThat(look(text).without(Hint.PASSPHRASE_NEEDED).asksPassphrase())
                    .isFalse();
            assertThat(look(text).without(Hint.ROLE_WRONG).notes())
                    .isEqualTo(look(text).notes());
        }
    }

    @ParameterizedTest
    @EnumSource(Hint.class)
    void everyHintSaysWhatItIsAndWhatToDo(Hint hint) {
        assertThat(hint.says()).isNotBlank();
        assertThat(hint.remedy()).isNotBlank();
    }

    @ParameterizedTest
    @EnumSource(Inspection.Kind.class)
    void everyKindHasItsWords(Inspection.Kind kind) {
        assertThat(kind.words()).isNotBlank();
        assertThat(kind.word()).matches("[a-z0-9-]+");
    }

    @Test
    void longValuesAreCutAndControlCharactersTakenOut() {
        String detail = look(file(House.OURS.certificate(), MARA, "up " + "x".repeat(300))).notes().stream()
                .filter(n -> n.hint() == Hint.RUNS_PROGRAM)
                .findFirst()
                .orElseThrow()
                .detail();
        assertThat(detail).hasSize(161).startsWith("up xxx").endsWith("x…");
    }

    @Test
    void aTextOfAnotherEncodingIsReadAndBytesThatAreNoTextAreNot() {
        byte[] latin = file(House.OURS.certificate(), MARA, "# caf\u00e9").getBytes(StandardCharsets.ISO_8859_1);
        assertThat(look("x.ovpn", latin).kind()).isEqualTo(Inspection.Kind.OPENVPN_CLIENT);
        byte[] withBell = Arrays.copyOf(latin, latin.length + 1);
        withBell[latin.length] = 7;
        assertThat(look("x.ovpn", withBell).kind()).isNotEqualTo(Inspection.Kind.OPENVPN_CLIENT);
        byte[] zero = Arrays.copyOf(latin, latin.length + 1);
        assertThat(look("x.ovpn", zero).kind()).isNotEqualTo(Inspection.Kind.OPENVPN_CLIENT);
    }

    // tar

    private static byte[] tar(Stream<Object[]> entries) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        entries.forEach(e -> {
            byte[] header = new byte[512];
            byte[] name = ((String) e[0]).getBytes(StandardCharsets.UTF_8);
            System.arraycopy(name, 0, header, 0, Math.min(100, name.length));
            byte[] content = ((String) e[2]).getBytes(StandardCharsets.UTF_8);
            System.arraycopy(String.format("%011o", content.length).getBytes(), 0, header, 124, 11);
            header[156] = (byte) ((String) e[1]).charAt(0);
            if (e.length > 3) {
                System.arraycopy("ustar".getBytes(), 0, header, 257, 5);
                System.arraycopy(((String) e[3]).getBytes(), 0, header, 345, ((String) e[3]).length());
            }
            out.writeBytes(header);
            out.writeBytes(Arrays.copyOf(content, (content.length + 511) / 512 * 512));
        });
        out.writeBytes(new byte[1024]);
        ByteArrayOutputStream packed = new ByteArrayOutputStream();
        try (var gzip = new java.util.zip.GZIPOutputStream(packed)) {
            gzip.write(out.toByteArray());
        } catch (java.io.IOException ex) {
            throw new java.io.UncheckedIOException(ex);
        }
        return packed.toByteArray();
    }

    private static List<String> names(Object[]... entries) {
        return look("x.tar.gz", tar(Stream.of(entries))).parts().stream()
                .map(Inspection::name)
                .toList();
    }

    private static Object[] entry(String... e) {
        return e;
    }

    @Test
    void longNamesComeFromWhateverFormHasThem() {
        assertThat(names(
                        entry("a.txt", "0", "hello"),
                        entry("././@LongLink", "L", "folder/long.txt"),
                        entry("cut", "0", "x"),
                        entry("b.txt", "0", "y"),
                        entry("pax", "x", "12 mtime=3\n20 path=pax/c.txt\n"),
                        entry("cut", "0", "z"),
                        entry("pax", "x", "12 mtime=3\n"),
                        entry("d.txt", "0", "z"),
                        entry("folder", "5", ""),
                        entry("e.txt", "0", "z"),
                        entry("global", "g", "12 path=no\n"),
                        entry("./f.txt", "0", "z"),
                        entry("g.txt", "0", "z", "deep/down")))
                .containsExactly(
                        "a.txt", "folder/long.txt", "b.txt", "pax/c.txt", "d.txt", "e.txt", "f.txt", "deep/down/g.txt");
    }
}
