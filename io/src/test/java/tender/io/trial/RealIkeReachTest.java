package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.certificate.Authority;
import tender.core.certificate.PemText;
import tender.core.ike.IkeSettings;
import tender.core.network.IpAddress;
import tender.core.profile.ClientRules;
import tender.core.profile.IkeProfile;
import tender.core.profile.SectionFile;
import tender.core.trial.IkeLadder;
import tender.core.trial.IkeQuestion;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.RungResult;
import tender.core.wire.MalformedException;
import tender.io.names.NameService;

/** Swanctl files on one real server: what the real client reaches with a file is what the trial says of it. */
class RealIkeReachTest {
    private static final String SHOWS = "auth = pubkey\ncerts = server.pem\nid = " + Lab.SERVER_NAME;
    private static final String PROVEN = "proven";
    private static final String REFUSED = "refused";
    private static final String NOT_TRIED = "not tried";
    private static final String OPEN = "not looked at: ";

    @TempDir
    static Path folder;

    private static IkeLab server;
    private static IkeLab client;

    @BeforeAll
    static void open() throws IOException {
        boolean able = IkeLab.able();
        if (!able) {
            System.out.println("SKIPPED: no strongSwan with its plugins, tun device or right to make namespaces here");
        }
        assumeTrue(able);
        server = new IkeLab(folder.resolve("server"));
        client = IkeLab.calling(server, folder.resolve("client"));
    }

    @AfterAll
    static void close() {
        if (client != null) {
            client.close();
        }
        if (server != null) {
            server.close();
        }
    }

    /**
     * A file and what becomes of it.
     *
     * @param real whether the real client connects
     * @param ours how the trial ends: proven, refused by the rules, not tried, what was not looked at, or a cause
     */
    private record Row(String name, boolean real, String ours, String section) {}

    private static String base() {
        return """
                connections {
                  orrin {
                    version = 2
                    remote_addrs = %s
                    vips = 0.0.0.0
                    proposals = aes256gcm16-prfsha256-ecp256
                    local {
                      auth = pubkey
                      certs = mara.pem
                      id = mara
                    }
                    remote {
                      auth = pubkey
                      cacerts = authority.pem
                      id = %s
                    }
                    children {
                      office {
                        remote_ts = 10.20.77.0/24
                        esp_proposals = aes256gcm16
                      }
                    }
                  }
                }
                """.formatted(server.address, Lab.SERVER_NAME);
    }

    private static Row row(String name, boolean real, String ours, String... replacements) {
        String section = base();
        for (int i = 0; i < replacements.length; i += 2) {
            String changed = section.replace(replacements[i], replacements[i + 1]);
            assertThat(changed).as(name).isNotEqualTo(section);
            section = changed;
        }
        return new Row(name, real, ours, section);
    }

    private static final String SERVER_ID = "id = " + Lab.SERVER_NAME;

    private static List<Row> byCertificate() {
        return List.of(
                row("as it is", true, PROVEN),
                row("anybody", true, PROVEN, SERVER_ID, "id = %any"),
                row("no name asked for", true, PROVEN, SERVER_ID, ""),
                row("a name with its mark", true, PROVEN, SERVER_ID, "id = @" + Lab.SERVER_NAME),
                row("a name with its kind", true, PROVEN, SERVER_ID, "id = fqdn:" + Lab.SERVER_NAME),
                row("in quotes with an escape", true, PROVEN, SERVER_ID, "id = \"orrin.skerri\\vane.example\""),
                row("over two lines", true, PROVEN, SERVER_ID, "id = \"orrin.skerrivane\\\n.example\""),
                row("another server's name", false, "server-name-differs", SERVER_ID, "id = dunmar.skerrivane.example"),
                row(
                        "the subject, where the server says its name",
                        false,
                        "server-name-differs",
                        SERVER_ID,
                        "id = \"CN=" + Lab.SERVER_NAME + "\""),
                row("a pattern", true, OPEN + "the pattern of id", SERVER_ID, "id = *.skerrivane.example"),
                row("no own name", true, PROVEN, "id = mara\n", "\n"),
                row(
                        "an own name that is not in the certificate",
                        false,
                        "own-name-differs",
                        "id = mara\n",
                        "id = jonas\n"),
                row(
                        "the server should prove a secret",
                        false,
                        "other-proof",
                        "auth = pubkey\n      cacerts",
                        "auth = psk\n      cacerts"),
                row(
                        "the client proves a secret",
                        false,
                        "secret-differs",
                        "auth = pubkey\n      certs = mara.pem",
                        "auth = psk",
                        "connections {",
                        "secrets { ike-1 { secret = tide } }\nconnections {"),
                row(
                        "RSA asked for",
                        false,
                        OPEN + "auth",
                        "auth = pubkey\n      cacerts",
                        "auth = rsa-2048\n      cacerts"),
                row(
                        "a digest asked for",
                        false,
                        OPEN + "auth",
                        "auth = pubkey\n      cacerts",
                        "auth = pubkey-sha512\n      cacerts"),
                row(
                        "revocation lists demanded",
                        false,
                        OPEN + "revocation",
                        SERVER_ID,
                        SERVER_ID + "\n revocation = strict"),
                row(
                        "lists where there are some",
                        true,
                        OPEN + "revocation",
                        SERVER_ID,
                        SERVER_ID + "\n revocation = ifuri"),
                row("relaxed", true, PROVEN, SERVER_ID, SERVER_ID + "\n revocation = relaxed"),
                row(
                        "a policy demanded",
                        false,
                        OPEN + "cert_policy",
                        SERVER_ID,
                        SERVER_ID + "\n cert_policy = 1.2.3.4"),
                row(
                        "another authority",
                        false,
                        "server-foreign-authority",
                        "cacerts = authority.pem",
                        "cacerts = other.pem"),
                row("no authority by name", true, PROVEN, "cacerts = authority.pem", ""),
                row("old algorithms", true, PROVEN, "aes256gcm16-prfsha256-ecp256", "aes256-sha256-modp2048"),
                row("the default", true, PROVEN, "aes256gcm16-prfsha256-ecp256", "default"),
                row("none named", true, PROVEN, "proposals = aes256gcm16-prfsha256-ecp256\n    local", "\n    local"),
                row(
                        "several, with blanks",
                        true,
                        PROVEN,
                        "aes256gcm16-prfsha256-ecp256",
                        "aes128-sha512-modp1536 , aes256-sha384-ecp384"),
                row(
                        "one that the server has not",
                        false,
                        "cipher-mismatch",
                        "aes256gcm16-prfsha256-ecp256",
                        "aes256-sha256-modp1024"),
                row(
                        "ones that are not tried",
                        true,
                        NOT_TRIED,
                        "aes256gcm16-prfsha256-ecp256",
                        "camellia256-sha256-modp2048"),
                row(
                        "one of them not tried",
                        true,
                        OPEN + "the proposals",
                        "aes256gcm16-prfsha256-ecp256",
                        "camellia256-sha256-modp2048, aes256-sha256-modp2048"),
                row(
                        "a group at the tunnel",
                        true,
                        PROVEN,
                        "esp_proposals = aes256gcm16",
                        "esp_proposals = aes256gcm16-ecp256"),
                row("tunnel by default", true, PROVEN, "esp_proposals = aes256gcm16", ""),
                row(
                        "tunnel of the old kind",
                        true,
                        PROVEN,
                        "esp_proposals = aes256gcm16",
                        "esp_proposals = aes128-sha1"),
                row(
                        "tunnel that nobody should have",
                        false,
                        NOT_TRIED,
                        "esp_proposals = aes256gcm16",
                        "esp_proposals = aes256-md5"),
                row("everything", true, PROVEN, "10.20.77.0/24", "0.0.0.0/0"),
                row("one host", true, PROVEN, "10.20.77.0/24", "10.20.77.20"),
                row("a range", true, PROVEN, "10.20.77.0/24", "10.20.77.10-10.20.77.30"),
                row("two networks", true, PROVEN, "10.20.77.0/24", "10.20.77.0/24, 10.21.0.0/16"),
                row("one port alone", true, OPEN + "protocols and ports", "10.20.77.0/24", "10.20.77.0/24[tcp/80]"),
                row("another office", false, "reach-refused", "10.20.77.0/24", "10.99.0.0/16"),
                row("no networks", false, OPEN + "no networks in remote_ts", "remote_ts = 10.20.77.0/24", ""),
                row("the server itself", false, OPEN + "no networks in remote_ts", "10.20.77.0/24", "dynamic"),
                row("no tunnel address asked for", false, OPEN + "no vips", "vips = 0.0.0.0\n", "\n"),
                row("a tunnel address of its own", true, PROVEN, "vips = 0.0.0.0", "vips = 10.95.0.77"),
                row("both families", true, PROVEN, "vips = 0.0.0.0", "vips = 0.0.0.0, ::"),
                row("IKE version 1", false, OPEN + "version", "version = 2", "version = 1"),
                row("either version", true, PROVEN, "version = 2", "version = 0"),
                row("version in hexadecimal", true, OPEN + "version", "version = 2", "version = 0x2"),
                row("the NAT port from the first", true, PROVEN, "version = 2", "version = 2\n remote_port = 4500"),
                row(
                        "a port where nothing is",
                        false,
                        "port-refused",
                        "version = 2",
                        "version = 2\n remote_port = 4501"),
                row(
                        "what changes nothing",
                        true,
                        PROVEN,
                        "version = 2",
                        "version = 2\n mobike = no\n encap = yes\n dpd_delay = 1m\n fragmentation = no\n unique = never"),
                row(
                        "no certificate asked for",
                        true,
                        OPEN + "send_certreq",
                        "version = 2",
                        "version = 2\n send_certreq = no"),
                row(
                        "what is said last counts",
                        true,
                        PROVEN,
                        "    vips",
                        "    remote_addrs = 192.0.2.7\n    remote_addrs = " + server.address + "\n    vips"),
                row("what is taken away", false, NOT_TRIED, "    vips", "    remote_addrs =\n    vips"),
                row(
                        "taken from another section",
                        true,
                        PROVEN,
                        "connections {",
                        "house {\n local {\n auth = pubkey\n certs = mara.pem\n id = mara\n }\n}\nconnections {",
                        "orrin {",
                        "orrin : house {",
                        "    local {\n      auth = pubkey\n      certs = mara.pem\n      id = mara\n    }\n",
                        ""),
                row(
                        "the second of two connections",
                        true,
                        PROVEN,
                        "connections {",
                        "connections {\n  waits { local { auth = pubkey\n certs = mara.pem }\n }"),
                row(
                        "settings from elsewhere",
                        true,
                        OPEN + "include",
                        "connections {",
                        "include nothing-here.conf\nconnections {"),
                row("transport mode", false, OPEN + "mode", "remote_ts", "mode = transport\n remote_ts"),
                row("no policies", true, OPEN + "policies", "remote_ts", "policies = no\n remote_ts"),
                row(
                        "a second proof",
                        false,
                        OPEN + "more than one local",
                        "    local {",
                        "    local-2 {\n auth = psk\n round = 2\n id = mara\n }\n    local {"),
                row("a setting that is none", false, REFUSED, "version = 2", "version = 2\n leftid = mara"),
                row("a value that is none", false, REFUSED, "version = 2", "version = two"),
                row("a section that is none", false, REFUSED, "    local {", "    here { auth = pubkey }\n    local {"),
                row("a section without its end", false, REFUSED, "}\n}\n", "}\n"),
                row(
                        "an algorithm that is none",
                        false,
                        REFUSED,
                        "aes256gcm16-prfsha256-ecp256",
                        "aes512-sha256-modp2048"),
                row("a network that is none", false, REFUSED, "10.20.77.0/24", "10.20.77/24"));
    }

    private static final String PASSWORD =
            "secrets { eap-mara { id = mara\n secret = " + IkeLab.PASSWORD + " } }\nconnections {";

    private static List<Row> byPassword() {
        String[] eap = {"auth = pubkey\n      certs = mara.pem", "auth = eap-mschapv2"};
        String hex = "0x" + HexFormat.of().formatHex(IkeLab.PASSWORD.getBytes());
        String base64 = "0s" + Base64.getEncoder().encodeToString(IkeLab.PASSWORD.getBytes());
        return List.of(
                row("a password in the file", true, PROVEN, eap[0], eap[1], "connections {", PASSWORD),
                row(
                        "in hexadecimal",
                        true,
                        PROVEN,
                        eap[0],
                        eap[1],
                        "connections {",
                        PASSWORD.replace(IkeLab.PASSWORD, hex)),
                row(
                        "in base64",
                        true,
                        PROVEN,
                        eap[0],
                        eap[1],
                        "connections {",
                        PASSWORD.replace(IkeLab.PASSWORD, base64)),
                row(
                        "in quotes",
                        true,
                        PROVEN,
                        eap[0],
                        eap[1],
                        "connections {",
                        PASSWORD.replace(IkeLab.PASSWORD, "\"harbour-\\lantern-7\"")),
                row(
                        "a wrong password",
                        false,
                        "password-refused",
                        eap[0],
                        eap[1],
                        "connections {",
                        PASSWORD.replace("lantern", "lamp")),
                row(
                        "an empty password",
                        false,
                        "password-refused",
                        eap[0],
                        eap[1],
                        "connections {",
                        PASSWORD.replace(IkeLab.PASSWORD, "\"\"")),
                row("no password", false, "password-missing", eap[0], eap[1]),
                row(
                        "somebody else's first",
                        true,
                        PROVEN,
                        eap[0],
                        eap[1],
                        "connections {",
                        "secrets { eap-jonas { id = jonas\n secret = tide } }\n" + PASSWORD),
                row(
                        "for nobody by name",
                        true,
                        PROVEN,
                        eap[0],
                        eap[1],
                        "connections {",
                        PASSWORD.replace("id = mara\n", "")),
                row("whatever the server wants", true, PROVEN, eap[0], "auth = eap", "connections {", PASSWORD),
                row(
                        "an account of its own",
                        true,
                        PROVEN,
                        eap[0],
                        eap[1] + "\n eap_id = mara",
                        "id = mara\n    }",
                        "id = nobody\n    }",
                        "connections {",
                        PASSWORD),
                row(
                        "an account that is none",
                        false,
                        "password-refused",
                        eap[0],
                        eap[1] + "\n eap_id = nobody",
                        "connections {",
                        PASSWORD.replace("id = mara", "id = nobody")),
                row("another way", false, NOT_TRIED, eap[0], "auth = eap-md5", "connections {", PASSWORD),
                row("by certificate all the same", false, "password-wanted"),
                row(
                        "another authority",
                        false,
                        "server-foreign-authority",
                        eap[0],
                        eap[1],
                        "cacerts = authority.pem",
                        "cacerts = other.pem",
                        "connections {",
                        PASSWORD),
                row(
                        "another server's name",
                        false,
                        "server-name-differs",
                        eap[0],
                        eap[1],
                        SERVER_ID,
                        "id = dunmar.skerrivane.example",
                        "connections {",
                        PASSWORD));
    }

    private static List<Row> bySecret() {
        String[] psk = {
            "auth = pubkey\n      certs = mara.pem",
            "auth = psk",
            "auth = pubkey\n      cacerts = authority.pem",
            "auth = psk"
        };
        String secret = "secrets { ike-1 { secret = " + IkeLab.SHARED + " } }\nconnections {";
        String base64 = "0s" + Base64.getEncoder().encodeToString(IkeLab.SHARED.getBytes());
        return List.of(
                row("a secret in the file", true, PROVEN, psk[0], psk[1], psk[2], psk[3], "connections {", secret),
                row(
                        "in base64",
                        true,
                        PROVEN,
                        psk[0],
                        psk[1],
                        psk[2],
                        psk[3],
                        "connections {",
                        secret.replace(IkeLab.SHARED, base64)),
                row(
                        "another secret",
                        false,
                        "secret-differs",
                        psk[0],
                        psk[1],
                        psk[2],
                        psk[3],
                        "connections {",
                        secret.replace("us", "them")),
                row("in capitals", true, PROVEN, psk[0], "auth = PSK", psk[2], "auth = Psk", "connections {", secret),
                row(
                        "the server should have a certificate",
                        false,
                        "other-proof",
                        psk[0],
                        psk[1],
                        "connections {",
                        secret));
    }

    @Test
    void byCertificateTheTrialSaysWhatTheRealClientReaches() throws Exception {
        server.serve(server.server, server.authority, "", SHOWS, "auth = pubkey", "");
        assertAll(byCertificate());
    }

    @Test
    void byPasswordTheTrialSaysWhatTheRealClientReaches() throws Exception {
        server.serve(server.server, server.authority, "", SHOWS, "auth = eap-mschapv2\neap_id = %any", "");
        assertAll(byPassword());
    }

    @Test
    void bySecretTheTrialSaysWhatTheRealClientReaches() throws Exception {
        server.serve(server.server, server.authority, "", "auth = psk\nid = " + Lab.SERVER_NAME, "auth = psk", "");
        assertAll(bySecret());
    }

    private static void assertAll(List<Row> rows) throws IOException {
        List<String> wrong = new ArrayList<>();
        for (Row row : rows) {
            boolean real = really(row) || row.real() && really(row); // a busy machine may have been too slow for it
            String ours = ours(row);
            boolean fits = row.ours().startsWith(OPEN) ? ours.startsWith(row.ours()) : ours.equals(row.ours());
            if (real != row.real() || !fits || !real && ours.equals(PROVEN)) {
                wrong.add(row.name() + ": the real client " + (real ? "connects" : "does not connect") + ", ours: "
                        + ours + ", expected " + row.real() + " and " + row.ours());
            }
        }
        System.out.println(
                "measured: " + rows.size() + " swanctl files on one real server, " + wrong.size() + " told wrongly");
        assertThat(wrong).as("of " + rows.size()).isEmpty();
    }

    private static Map<String, byte[]> parts() {
        return Map.of(
                "x509/mara.pem", server.client.pem().getBytes(),
                "private/mara.pem", server.client.key().getBytes(),
                "x509ca/authority.pem", pem(server.authority),
                "x509ca/other.pem", pem(OTHER));
    }

    private static final Authority OTHER = Lab.authority("Another house", Instant.now());

    private static byte[] pem(Authority authority) {
        return PemText.write("CERTIFICATE", authority.certificate()).getBytes();
    }

    private static boolean really(Row row) throws IOException {
        List<SectionFile.Setting> all =
                new IkeProfile(row.section(), Optional.empty(), Optional.empty(), Optional.empty()).connection();
        String connection = all.isEmpty() ? "orrin" : all.get(0).path().get(1);
        Map<String, String> parts = new java.util.HashMap<>();
        parts().forEach((name, content) -> parts.put(name, new String(content)));
        return client.connects(row.section(), connection, "office", parts);
    }

    private static String ours(Row row) {
        if (ClientRules.refusal(row.section()).isPresent()) {
            return REFUSED;
        }
        Ladder ladder;
        try {
            IkeQuestion question = IkeQuestion.of(
                    IkeProfile.of(row.section(), parts()).text(),
                    IkeSettings.Added.NOTHING,
                    Optional.empty(),
                    Optional.of(IpAddress.parse(Lab.INSIDE_HOST)),
                    Instant.now());
            ladder = IkeLadder.judge(
                    question,
                    new IkeTrial(
                                    question,
                                    name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of()),
                                    MeasurementOptions.NOTHING,
                                    rung -> {})
                            .run(),
                    Optional.empty());
        } catch (MalformedException e) {
            return NOT_TRIED;
        }
        if (ladder.isProven()) {
            return PROVEN;
        }
        Optional<String> open = ladder.rungs().stream()
                .map(RungResult::detail)
                .filter(d -> d.contains(OPEN))
                .findFirst();
        return open.map(d -> d.substring(d.indexOf(OPEN)))
                .orElseGet(() -> ladder.failure()
                        .flatMap(f -> f.causes().stream().findFirst())
                        .map(c -> c.code())
                        .orElse("no cause: " + ladder));
    }
}
