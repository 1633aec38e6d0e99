package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The tour as a person runs it, and what it leaves behind. */
class TourTest {
    @TempDir
    static Path folder;

    private static Path data;
    private static Shell.Result tour;

    @BeforeAll
    static void run() {
        data = folder.resolve("tour");
        tour = Shell.run(
                Map.of(),
                Duration.ofSeconds(240),
                List.of("./start", "--demo", "--tour", "--keep", "--data", data.toString()));
    }

    @AfterAll
    static void stop() {
        Shell.need("./stop", "--data", data.toString());
    }

    @Test
    void everyStepEndsWellAndItEndsWithTheProof() {
        assertThat(tour.code()).as(tour.out()).isZero();
        assertThat(tour.out())
                .contains("26 steps in")
                .contains("proven, rests on this profile, revision 1")
                .contains("proven, rests on a canary")
                .doesNotContain("FAILED");
    }

    /** Every secret the tour made, found where it may be: the router's files, the collected file, the files of the owner. */
    private static List<String> secrets() throws Exception {
        List<String> out = new ArrayList<>();
        for (Path file :
                List.of(data.resolve("tour/mara-ph-pi2-r1.conf"), data.resolve("standins/pier2/tunnels/wg0.conf"))) {
            Matcher keys =
                    Pattern.compile("(?:PrivateKey|PresharedKey) = (\\S+)").matcher(Files.readString(file));
            while (keys.find()) {
                out.add(keys.group(1));
            }
        }
        for (String file :
                List.of("owner-password", "tour/passphrase", "tour/backup-passphrase", "postgres/password")) {
            out.add(Files.readString(data.resolve(file)).strip());
        }
        String link = Files.readString(data.resolve("tour/link")).strip();
        out.add(link.substring(link.indexOf('#') + 1));
        out.add(Files.readAllLines(data.resolve("client/account")).get(1));
        out.add(Files.readString(data.resolve("master-key")).strip().substring(3));
        out.add(Files.readAllLines(data.resolve("standins/keeper-key")).get(2));
        return out;
    }

    /** The value as it stands, and as its bytes read in base64 and hex at every alignment. */
    private static List<String> forms(String secret) {
        List<String> out = new ArrayList<>(List.of(secret));
        List<byte[]> values = new ArrayList<>(List.of(secret.getBytes(StandardCharsets.UTF_8)));
        if (secret.matches("[A-Za-z0-9+/]{43}=")) {
            values.add(Base64.getDecoder().decode(secret));
        }
        for (byte[] value : values) {
            out.add(HexFormat.of().formatHex(value));
            out.add(new String(value, StandardCharsets.ISO_8859_1));
            for (int shift = 0; shift < 3; shift++) {
                byte[] shifted = new byte[value.length + shift];
                System.arraycopy(value, 0, shifted, shift, value.length);
                String text = Base64.getEncoder().encodeToString(shifted);
                out.add(text.substring(4, text.length() - 4));
            }
        }
        return out;
    }

    @Test
    void noSecretStandsInTheDatabaseOrInAnyLog() throws Exception {
        String port =
                Files.readAllLines(data.resolve("postgres/pg/postmaster.pid")).get(3);
        Shell.Result dump = Shell.run(
                Map.of(
                        "PGPASSWORD",
                        Files.readString(data.resolve("postgres/owner-password"))
                                .strip()),
                Duration.ofSeconds(60),
                List.of(
                        "bash",
                        "-c",
                        "$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)/pg_dump -h 127.0.0.1 -p " + port
                                + " -U tender_owner tender"));
        assertThat(dump.code()).isZero();
        assertThat(dump.out())
                .as("the dump is whole")
                .contains("mara-phone-pier2")
                .contains("PostgreSQL database dump complete");
        StringBuilder everything = new StringBuilder(dump.out()).append(tour.out());
        try (Stream<Path> logs = Files.walk(data)) {
            for (Path log : logs.filter(
                            p -> p.toString().endsWith(".log") || p.toString().endsWith(".out"))
                    .toList()) {
                everything.append(new String(Files.readAllBytes(log), StandardCharsets.ISO_8859_1));
            }
        }
        List<String> secrets = secrets();
        assertThat(secrets).hasSizeGreaterThan(10);
        String text = everything.toString();
        for (String secret : secrets) {
            for (String form : forms(secret)) {
                assertThat(text.contains(form))
                        .as("a secret beginning with " + secret.substring(0, 4))
                        .isFalse();
            }
        }
        assertThat(forms(Base64.getEncoder().encodeToString(new byte[32])))
                .as("the search finds what it looks for")
                .anyMatch(("x" + "00".repeat(32))::contains);
    }

    @Test
    void opensslOpensTheDownloadedBackupAndRefusesAChangedOne() throws Exception {
        Path sealed = data.resolve("tour/pier2-1.zip.cms");
        String passphrase =
                Files.readString(data.resolve("tour/backup-passphrase")).strip();
        Path zip = folder.resolve("opened.zip");
        Shell.need(
                "openssl",
                "cms",
                "-decrypt",
                "-inform",
                "DER",
                "-in",
                sealed.toString(),
                "-pwri_password",
                passphrase,
                "-out",
                zip.toString());
        assertThat(new String(Files.readAllBytes(zip), StandardCharsets.ISO_8859_1))
                .startsWith("PK")
                .contains("tunnels/wg0.conf");

        byte[] changed = Files.readAllBytes(sealed);
        changed[changed.length - 40] ^= 1;
        Path broken = Files.write(folder.resolve("changed.cms"), changed);
        assertThat(Shell.run(
                                "openssl",
                                "cms",
                                "-decrypt",
                                "-inform",
                                "DER",
                                "-in",
                                broken.toString(),
                                "-pwri_password",
                                passphrase,
                                "-out",
                                folder.resolve("x").toString())
                        .code())
                .isNotZero();
        assertThat(Shell.run(
                                "openssl",
                                "cms",
                                "-decrypt",
                                "-inform",
                                "DER",
                                "-in",
                                sealed.toString(),
                                "-pwri_password",
                                "another one",
                                "-out",
                                folder.resolve("y").toString())
                        .code())
                .isNotZero();
    }

    @Test
    void theDemosOfficesHaveExactlyTheFaultsThatWereMade() throws Exception {
        List<String> found = new ArrayList<>();
        new ObjectMapper()
                .readTree(data.resolve("tour/findings.json").toFile())
                .forEach(f -> found.add(
                        f.path("code").asText() + " " + f.path("subject").asText()));
        List<String> expected =
                Files.readAllLines(Shell.ROOT.resolve("service/src/test/resources/demo-findings.txt")).stream()
                        .filter(line -> !line.startsWith("#"))
                        .toList();

        assertThat(found).containsExactlyInAnyOrderElementsOf(expected);
    }

    @Test
    void aSecondStartSaysThatOneRunsAndBuildsNothing() {
        Shell.Result second = Shell.run("./start", "--demo", "--data", data.toString());

        assertThat(second.code()).isZero();
        assertThat(second.out())
                .contains("Tender runs on this data folder already")
                .doesNotContain("building");
        Shell.Result direct = Shell.run(
                Map.of(
                        "TENDER_DATA_FOLDER",
                        data.toString(),
                        "TENDER_DATABASE_URL",
                        "jdbc:postgresql://127.0.0.1:1/x",
                        "TENDER_DATABASE_PASSWORD_FILE",
                        data.resolve("postgres/password").toString()),
                Duration.ofSeconds(20),
                List.of("java", "-jar", "service/target/service-0.1.0.jar"));
        assertThat(direct.out()).contains("another instance uses the data folder");
        assertThat(direct.code()).isEqualTo(1);
    }

    @Test
    void theDatabaseListensOnLoopbackAndDoesNotRunAsRoot() throws Exception {
        String pid =
                Files.readAllLines(data.resolve("postgres/pg/postmaster.pid")).get(0);

        assertThat(Shell.need("stat", "-c", "%U", "/proc/" + pid).strip()).isNotEqualTo("root");
        assertThat(Files.readAllLines(data.resolve("postgres/pg/postmaster.pid"))
                        .get(5))
                .isEqualTo("127.0.0.1");
    }
}
