package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.standins.office.SmallOffice;

/** The client's manners: exit codes, JSON, dry runs, errors that say what to do. */
class ClientTest {
    private static final int BOUND_MILLIS = 700;

    @TempDir
    Path folder;

    /** In seconds of the processor, which what else runs on the machine does not lengthen much. */
    @Test
    void helpComesQuickly() {
        List<Long> millis = new ArrayList<>();
        for (int i = 0; i < 5; i++) {
            String out = Shell.need("bash", "-c", "TIMEFORMAT='cpu %U %S'; time bin/tender --help 2>&1");
            assertThat(out).contains("The usual steps:", "gateway", "Exit codes");
            String[] cpu = out.substring(out.lastIndexOf("cpu ")).strip().split(" ");
            millis.add(Math.round(1_000 * (Double.parseDouble(cpu[1]) + Double.parseDouble(cpu[2]))));
        }
        Collections.sort(millis);
        System.out.println("tender --help: median " + millis.get(2) + " ms of CPU of " + millis);
        assertThat(millis.get(2)).isLessThan(BOUND_MILLIS);
    }

    @Test
    void everyVerbHasHelpAndCompletionKnowsThem() {
        String completion = Shell.need("bin/tender", "completion");
        for (String thing : List.of(
                "gateway",
                "profile",
                "grant",
                "monitor",
                "vantage",
                "handout",
                "trial",
                "session",
                "backup",
                "person",
                "device",
                "site",
                "operator",
                "finding",
                "authority",
                "change",
                "route",
                "explain",
                "description",
                "job",
                "journal")) {
            String help = Shell.need("bin/tender", thing, "--help");
            assertThat(help).contains("Usage: tender " + thing);
            help.lines()
                    .dropWhile(l -> !l.startsWith("Commands:"))
                    .skip(1)
                    .map(String::strip)
                    .filter(l -> l.matches("[a-z]+ .*"))
                    .map(l -> l.substring(0, l.indexOf(' ')))
                    .filter(verb -> !verb.equals("device,") && help.contains("  " + verb + " "))
                    .limit(2)
                    .forEach(verb -> assertThat(Shell.run("bin/tender", thing, verb, "--help")
                                    .out())
                            .contains("Usage:"));
            assertThat(completion).contains(thing);
        }
    }

    @Test
    void aFileIsLookedIntoWithoutAnyService() {
        Path corpus = Shell.ROOT.resolve("core/src/test/resources/corpus");
        Shell.Result bad = Shell.run(
                "bin/tender",
                "profile",
                "inspect",
                corpus.resolve("openvpn/runs-program.ovpn").toString());
        assertThat(bad.code()).as(bad.out()).isEqualTo(1);
        assertThat(bad.out()).contains("line 12: The file runs a program on the device. (up /tmp/up.sh --now)");

        Shell.Result good = Shell.run(
                "bin/tender",
                "profile",
                "inspect",
                "--json",
                corpus.resolve("archive/bundle.tar.gz").toString());
        assertThat(good.code()).isZero();
        assertThat(good.out())
                .contains("\"kind\" : \"openvpn-client\"", "\"verdict\" : \"usable\"")
                .doesNotContain("PRIVATE KEY");

        Shell.Result locked = Shell.run(
                "bash",
                "-c",
                "bin/tender profile inspect --passphrase-fd 3 " + corpus.resolve("p12/legacy.p12") + " 3<<<harbour");
        assertThat(locked.out()).contains("current programs refuse").contains("Mara Quillfeather");
        Shell.Result tried = Shell.run(
                "bash",
                "-c",
                "{ echo client; echo dev tun; echo remote 192.0.2.7 1194; echo '<pkcs12>'; base64 "
                        + corpus.resolve("p12/legacy.p12") + "; echo '</pkcs12>'; } > '" + folder
                        + "/old.ovpn' && bin/tender trial run '" + folder + "/old.ovpn'");
        assertThat(tried.code()).as(tried.out()).isEqualTo(2);
        assertThat(tried.out()).as("no passphrase would help").contains("line 4", "providers legacy default");
        assertThat(Shell.run("bin/tender", "profile", "inspect", "/nowhere").code())
                .isEqualTo(2);
    }

    @Test
    void exitCodesSayWhatKindOfTroubleItIs() throws Exception {
        assertThat(Shell.run("bin/tender", "nonsense").code()).isEqualTo(2);
        assertThat(Shell.run("bin/tender", "gateway").code()).isEqualTo(2);
        try (SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.76.1");
                Tender tender = new Tender(folder, office)) {
            tender.addRouter(office, "mara", "phone");
            assertThat(tender.tryClient("gateway", "show", "nowhere").code()).isEqualTo(1);
            assertThat(tender.tryClient("gateway", "accept", "pier2", "SHA256:other")
                            .out())
                    .contains("no host key with that fingerprint")
                    .contains("do:");

            Shell.Result dry = tender.tryClient("profile", "issue", "mara", "phone", "--gateway", "pier2", "--dry-run");
            assertThat(dry.out()).contains("10.99.4.2").contains("nothing was written");
            assertThat(tender.json("profile", "list")).isEmpty();

            tender.client("profile", "issue", "mara", "phone", "--gateway", "pier2");
            assertThat(tender.json("profile", "list", "--gateway", "pier2", "--open", "not-handed-out"))
                    .hasSize(1);
            assertThat(tender.json("profile", "list", "--person", "mara", "--open", "failing"))
                    .isEmpty();
            assertThat(tender.client("profile", "list", "--text", "PHONE", "--state", "ready"))
                    .contains("mara-phone-pier2");
            assertThat(tender.client("profile", "list", "--team", "nobody's")).contains("no profile fits");
            assertThat(tender.tryClient("profile", "list", "--state", "lost").code())
                    .isEqualTo(2);
            assertThat(tender.client("person", "list", "--text", "mar")).contains("mara");
            assertThat(tender.client("person", "list", "--text", "zz")).contains("nobody fits");
            assertThat(tender.client("person", "set", "mara", "--team", "masters", "--language", "de"))
                    .contains("mara was changed");
            assertThat(tender.client("team", "list")).contains("masters");
            Shell.Result kept = tender.tryClient("person", "remove", "mara", "--yes");
            assertThat(kept.code()).as("she still has access").isNotZero();
            assertThat(kept.out()).contains("mara-phone-pier2", "tender profile withdraw");
            tender.client("device", "add", "mara", "spare", "--kind", "phone");
            assertThat(tender.client("device", "remove", "mara", "spare", "--dry-run"))
                    .contains("nothing was removed");
            assertThat(tender.client("device", "remove", "mara", "spare", "--yes"))
                    .contains("mara's spare was removed");
            assertThat(tender.tryClient("gateway", "set", "pier2", "--user", "somebody")
                            .out())
                    .contains("refuses the sign-in of somebody");
            assertThat(tender.client("gateway", "list", "--text", "pier")).contains("pier2");
            assertThat(tender.client("gateway", "list", "--site", "nowhere")).contains("no gateway fits");
            office.router().faults().insideHostsSilent = true;
            Shell.Result trial = tender.tryClient("trial", "run", "mara-phone-pier2");
            assertThat(trial.code()).isEqualTo(1);
            assertThat(trial.out()).contains("inside host").contains("likely:").contains("not proven");
            office.router().faults().insideHostsSilent = false;
            assertThat(tender.json("trial", "list", "--text", "mara")).hasSize(1);
            assertThat(tender.json("trial", "list", "--text", "joss")).isEmpty();
            assertThat(tender.json("profile", "list", "--open", "failing")).hasSize(1);

            Path csv = Files.writeString(
                    folder.resolve("people.csv"),
                    "handle,name,mail,team,device,kind,system\njoss,Joss,,,tablet,boat,\n");
            Shell.Result list = tender.tryClient("person", "import", csv.toString());
            assertThat(list.code()).isEqualTo(2);
            assertThat(list.out()).contains("line 2").doesNotContain("boat");

            JsonNode gateway = tender.json("gateway", "show", "pier2");
            assertThat(gateway.path("listeners").get(0).path("active").asBoolean())
                    .isTrue();
            assertThat(tender.client("backup", "list", "--gateway", "pier2")).contains("before a change");
            assertThat(tender.tryClient(
                                    "backup",
                                    "download",
                                    "pier2",
                                    "1",
                                    "--out",
                                    folder.resolve("b").toString(),
                                    "--passphrase-fd",
                                    "3<short")
                            .code())
                    .isEqualTo(2);
            assertThat(Files.exists(folder.resolve("b"))).isFalse();

            tender.kill();
            Shell.Result gone = tender.tryClient("overview");
            assertThat(gone.code()).isEqualTo(3);
            assertThat(gone.out()).contains("no answer from").contains("do:");
        }
    }
}
