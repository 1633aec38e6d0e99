package tender.core.inspect;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.Arrays;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.GZIPOutputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.TunnelKeyPair;
import tender.core.inspect.Judgement.Verdict;
import tender.core.trial.House;

/** Files that came together, archives that mean harm, and the one verdict on all of it. */
class TogetherTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final String PROFILE =
            "client\ndev tun\nremote vpn.skerrivane.example 1194\nremote-cert-tls server\n"
                    + "tls-crypt wrap.key\nca ca.crt\ncert keys/mara.crt\nkey mara.key\n";
    private static final House.Pair MARA = House.signed(House.OURS, Authority.Purpose.CLIENT, "mara", -1, 60);

    private static Map<String, byte[]> files(Object... namesAndTexts) {
        Map<String, byte[]> out = new LinkedHashMap<>();
        for (int i = 0; i < namesAndTexts.length; i += 2) {
            out.put((String) namesAndTexts[i], bytes(namesAndTexts[i + 1]));
        }
        return out;
    }

    private static byte[] bytes(Object content) {
        return content instanceof byte[] b ? b : ((String) content).getBytes(StandardCharsets.UTF_8);
    }

    private static Map<String, byte[]> whole() {
        return files(
                "office.ovpn",
                PROFILE,
                "ca.crt",
                PemText.write("CERTIFICATE", House.OURS.certificate()),
                "mara.crt",
                MARA.pem(),
                "mara.key",
                MARA.keyPem(),
                "wrap.key",
                "-----BEGIN OpenVPN Static key V1-----\n" + "0123456789abcdef0123456789abcdef\n".repeat(16)
                        + "-----END OpenVPN Static key V1-----\n");
    }

    private static List<Inspection> look(Map<String, byte[]> files) {
        return Inspector.all(files, Map.of(), House.NOW, Optional.empty());
    }

    private static List<Hint> hints(List<Inspection> all) {
        return all.stream()
                .flatMap(i -> i.allNotes().stream())
                .map(Inspection.Note::hint)
                .toList();
    }

    private static Verdict verdict(List<Inspection> all) {
        return Judgement.of(all).verdict();
    }

    @Test
    void filesThatCameTogetherKnowEachOther() {
        Map<String, byte[]> all = whole();

        assertThat(hints(look(all))).doesNotContain(Hint.PART_ELSEWHERE, Hint.KEY_OTHER, Hint.AUTHORITY_OTHER);
        assertThat(verdict(look(all))).isEqualTo(Verdict.USABLE);

        all.remove("mara.key");
        assertThat(look(all).get(0).notes())
                .anySatisfy(n -> assertThat(n.detail()).isEqualTo("key mara.key"));
        assertThat(Judgement.of(look(all)).words()).startsWith("usable after: give the files together");
    }

    @Test
    void aListBesideRevokesACertificateWhereItsAuthoritySignedTheList() {
        CertificateFacts mara = CertificateFacts.of(MARA.certificate());
        List<Authority.Revoked> gone = List.of(new Authority.Revoked(mara.serial(), House.NOW, 1));
        byte[] list = House.OURS.revocations(
                gone, 2, House.NOW.minus(Duration.ofDays(1)), House.NOW.plus(Duration.ofDays(20)));
        Map<String, byte[]> all = whole();
        all.put("revoked.crl", list);

        assertThat(hints(look(all))).contains(Hint.CERTIFICATE_REVOKED);
        assertThat(verdict(look(all))).isEqualTo(Verdict.NOT_USABLE);

        all.put("revoked.crl", bytes(PemText.write("X509 CRL", list)));
        assertThat(hints(look(all))).contains(Hint.CERTIFICATE_REVOKED);

        byte[] forged = House.OTHER.revocations(gone, 2, House.NOW, House.NOW.plus(Duration.ofDays(20)));
        all.put("revoked.crl", forged);
        assertThat(hints(look(all))).doesNotContain(Hint.CERTIFICATE_REVOKED);

        Authority sameName = Authority.make(
                "Skerrivane Ferries",
                CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM),
                House.NOW.minus(Duration.ofDays(1)),
                House.NOW.plus(Duration.ofDays(90)),
                RANDOM);
        all.put("revoked.crl", sameName.revocations(gone, 2, House.NOW, House.NOW.plus(Duration.ofDays(20))));
        assertThat(hints(look(all))).as("another authority of the same name").doesNotContain(Hint.CERTIFICATE_REVOKED);
        all.remove("ca.crt");
        assertThat(hints(look(all))).as("nothing to check it by").contains(Hint.CERTIFICATE_REVOKED);
    }

    @Test
    void anAuthoritysKeyIsToldAlsoWhereItsCertificateIsAnotherFile() {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        Authority house = Authority.make(
                "Harbour House", key, House.NOW.minus(Duration.ofDays(1)), House.NOW.plus(Duration.ofDays(90)), RANDOM);
        String pem = PemText.write("PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE));

        List<Inspection> all = look(files("ca.key", pem, "ca.crt", PemText.write("CERTIFICATE", house.certificate())));

        assertThat(hints(all)).contains(Hint.AUTHORITY_KEY_INSIDE);
        assertThat(verdict(all)).isEqualTo(Verdict.DANGEROUS);
    }

    @Test
    void oneFileThatCannotBeReadCostsNothingOfTheOthers() throws IOException {
        Map<String, byte[]> all = whole();
        byte[] archive = zip(whole());
        all.put("broken.zip", Arrays.copyOf(archive, archive.length / 3));
        all.put("broken.p12", new byte[] {0x30, 4, 2, 0, 3, 7});

        List<Inspection> found = look(all);

        assertThat(found).hasSize(7);
        assertThat(found.get(0).kind()).isEqualTo(Inspection.Kind.OPENVPN_CLIENT);
        assertThat(hints(found)).contains(Hint.ARCHIVE_DAMAGED, Hint.UNREAD);
        assertThat(verdict(found)).isEqualTo(Verdict.NOT_USABLE);
    }

    private static byte[] zip(Map<String, byte[]> files) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            for (Map.Entry<String, byte[]> f : files.entrySet()) {
                zip.putNextEntry(new ZipEntry(f.getKey()));
                zip.write(f.getValue());
            }
        }
        return out.toByteArray();
    }

    /** Sets bytes of every header that begins with a mark, counted from it. */
    private static byte[] set(byte[] archive, int mark, int at, int... values) {
        byte[] out = archive.clone();
        for (int i = 0; i + 46 < out.length; i++) {
            if (out[i] == 'P' && out[i + 1] == 'K' && out[i + 2] == mark && out[i + 3] == mark + 1) {
                for (int v = 0; v < values.length; v++) {
                    out[i + at + v] = (byte) values[v];
                }
            }
        }
        return out;
    }

    @Test
    void oneBadNameHidesNothingOfTheRest() throws IOException {
        Map<String, byte[]> all = new LinkedHashMap<>();
        all.put("../../etc/cron.d/x", bytes("* * * * * root true\n"));
        all.putAll(whole());

        List<Inspection> found = look(files("clients.zip", zip(all)));

        assertThat(found.get(0).parts()).hasSize(5);
        assertThat(hints(found)).contains(Hint.ARCHIVE_ESCAPES).doesNotContain(Hint.PART_ELSEWHERE);
        assertThat(verdict(found)).isEqualTo(Verdict.DANGEROUS);
    }

    @Test
    void aLinkInAZipArchiveIsDangerousAndAnEncryptedOneIsNotDamaged() throws IOException {
        byte[] archive = zip(files("office.ovpn", PROFILE));

        byte[] link = set(set(archive, 1, 5, 3), 1, 40, 0xff, 0xa1);
        assertThat(hints(look(files("a.zip", link)))).containsExactly(Hint.ARCHIVE_ESCAPES);

        byte[] locked = set(set(archive, 1, 8, 9), 3, 6, 9);
        assertThat(hints(look(files("a.zip", locked)))).containsExactly(Hint.ARCHIVE_LOCKED);
        assertThat(verdict(look(files("a.zip", locked)))).isEqualTo(Verdict.USABLE_AFTER);
    }

    @Test
    void oneFileThatWasPackedAloneIsLookedInto() throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (GZIPOutputStream zip = new GZIPOutputStream(out)) {
            zip.write(bytes(PROFILE.repeat(12)));
        }

        assertThat(look(files("office.ovpn.gz", out.toByteArray())).get(0).parts())
                .singleElement()
                .satisfies(p -> assertThat(p.kind()).isEqualTo(Inspection.Kind.OPENVPN_CLIENT));
    }

    @Test
    void aChainThatLeadsThroughTheFileIsNoForeignCertificate() {
        Authority between = House.under(House.OURS, "Pier Office");
        House.Pair jonas = House.signed(between, Authority.Purpose.CLIENT, "jonas", -1, 60);
        String profile = "client\ndev tun\nremote vpn.skerrivane.example 1194\nremote-cert-tls server\n<ca>\n"
                + PemText.write("CERTIFICATE", House.OURS.certificate()) + "</ca>\n<cert>\n" + jonas.pem()
                + "%s</cert>\n<key>\n"
                + jonas.keyPem() + "</key>\n%s";
        String middle = PemText.write("CERTIFICATE", between.certificate());

        assertThat(hints(look(files("a.ovpn", profile.formatted("", ""))))).contains(Hint.AUTHORITY_OTHER);
        assertThat(hints(look(files("a.ovpn", profile.formatted(middle, ""))))).doesNotContain(Hint.AUTHORITY_OTHER);
        assertThat(hints(look(files("a.ovpn", profile.formatted("", "<extra-certs>\n" + middle + "</extra-certs>\n")))))
                .doesNotContain(Hint.AUTHORITY_OTHER);
    }

    @ParameterizedTest
    @CsvSource({
        "vpn.skerrivane.example, ",
        "YOUR-SERVER.example.com, ENDPOINT_PLACEHOLDER",
        "<gateway>, ENDPOINT_PLACEHOLDER",
        "{{host}}, ENDPOINT_PLACEHOLDER",
        "your_server_ip, ENDPOINT_PLACEHOLDER",
        "$HOST, ENDPOINT_PLACEHOLDER",
        "SERVER_ADDRESS, ENDPOINT_PLACEHOLDER",
        "WAN_IP, ENDPOINT_PLACEHOLDER",
        "bücher.skerrivane.example, NAME_UNUSUAL",
        "vpn_gateway.skerrivane.example, NAME_UNUSUAL",
        "192.0.2.300, ENDPOINT_WRONG",
        "vpn..skerrivane.example, ENDPOINT_WRONG",
        "192.0.2, ENDPOINT_WRONG",
        "a:b, ENDPOINT_WRONG"
    })
    void placeholdersAreToldFromBadAddressesAndFromUnusualNames(String host, Hint hint) {
        List<Hint> found = hints(look(files("a.ovpn", PROFILE.replace("vpn.skerrivane.example", host)))).stream()
                .filter(h -> h.name().startsWith("ENDPOINT") || h == Hint.NAME_UNUSUAL)
                .toList();

        if (hint == null) {
            assertThat(found).isEmpty();
        } else {
            assertThat(found).containsExactly(hint);
        }
    }

    @Test
    void aServicesNameIsItsPort() {
        List<Inspection> found = look(files("a.ovpn", PROFILE.replace("example 1194", "example https")));

        assertThat(found.get(0).facts()).anySatisfy(f -> assertThat(f.value()).contains("vpn.skerrivane.example:443"));
    }

    @Test
    void aWireGuardFileThatNamesItsOwnKeyOrOneNetworkTwiceIsTold() {
        TunnelKeyPair own = TunnelKeyPair.generate(RANDOM);
        String peer = "[Peer]\nPublicKey = %s\nAllowedIPs = 10.20.0.0/16\nEndpoint = vpn.skerrivane.example:51820\n";
        String file = "[Interface]\nPrivateKey = "
                + Base64.getEncoder().encodeToString(own.privateKey().reveal(RevealSecret.TO_WRITE_FILE))
                + "\nAddress = 10.9.0.2/32\n"
                + peer.formatted(own.publicKey())
                + peer.formatted(TunnelKeyPair.generate(RANDOM).publicKey());

        List<Inspection> found = look(files("mara.conf", file));

        assertThat(hints(found)).contains(Hint.KEY_OWN_AS_PEER, Hint.NETWORK_TWICE);
        assertThat(verdict(found)).isEqualTo(Verdict.NOT_USABLE);
    }
}
