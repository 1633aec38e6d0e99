package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tender.standins.office.SmallOffice;

/**
 * The guide's pages are real runs: each {@code $ tender …} of a console block is carried out, in order, and says what stands below it;
 * {@code …} stands for anything. Addresses of the documentation are those of a simulated router here.
 */
class GuideTest {
    private static final String PROMPT = "$ ";
    private static final String ADDRESS = "192.0.2.10";
    private static final Pattern FINGERPRINT = Pattern.compile("SHA256:[A-Za-z0-9+/]{43}");

    @TempDir
    Path folder;

    private SmallOffice office;
    private Tender tender;

    /** A command of a page with the lines that it is said to print. */
    private record Step(int line, String command, List<String> output) {}

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.98.1");
        tender = new Tender(folder, office);
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        office.close();
    }

    private static List<Step> steps(String page) throws Exception {
        List<Step> out = new ArrayList<>();
        List<String> lines = Files.readAllLines(Shell.ROOT.resolve("docs/guide").resolve(page), StandardCharsets.UTF_8);
        boolean inside = false;
        for (int i = 0; i < lines.size(); i++) {
            String line = lines.get(i);
            if (line.startsWith("```")) {
                inside = line.equals("```console");
            } else if (inside && line.startsWith(PROMPT)) {
                out.add(new Step(i + 1, line.substring(PROMPT.length()), new ArrayList<>()));
            } else if (inside && !out.isEmpty()) {
                out.get(out.size() - 1).output().add(line);
            }
        }
        return out;
    }

    @ParameterizedTest
    @ValueSource(strings = {"first-hour.md", "day-to-day.md", "when-it-does-not-work.md"})
    void everyCommandSaysWhatThePageShows(String page) throws Exception {
        List<Step> steps = steps(page);
        assertThat(steps).as("commands of " + page).isNotEmpty();
        String fingerprint = "";
        for (Step step : steps) {
            String out = run(here(step.command()).replace("SHA256:…", fingerprint));
            Matcher shown = FINGERPRINT.matcher(out);
            fingerprint = shown.find() ? shown.group() : fingerprint; // as somebody reads it on the device
            if (System.getProperty("show.guide") != null) {
                System.out.println("GUIDE$ " + step.command() + "\n" + out);
            }
            List<String> said = out.lines().map(String::stripTrailing).toList();
            int from = 0;
            for (String expected : step.output()) {
                Pattern pattern = pattern(here(expected));
                int at = from;
                while (at < said.size() && !pattern.matcher(said.get(at)).matches()) {
                    at++;
                }
                assertThat(at)
                        .as(page + ":" + step.line() + " " + step.command() + "\nnot said: " + expected + "\nsaid:\n"
                                + out)
                        .isLessThan(said.size());
                from = at + 1;
            }
        }
    }

    /** As somebody types it: in a folder of their own, at a terminal of the usual width. */
    private String run(String command) {
        Map<String, String> env = new HashMap<>(tender.environment());
        env.remove("COLUMNS");
        String line = "cd " + folder + "; tender() { " + Shell.ROOT.resolve("bin/tender") + " \"$@\"; }; " + command;
        String out = Shell.run(env, Duration.ofSeconds(60), List.of("bash", "-c", line))
                .out();
        return new String(out.getBytes(StandardCharsets.ISO_8859_1), StandardCharsets.UTF_8);
    }

    private String here(String text) {
        return text.replace(
                        "--address " + ADDRESS,
                        "--address " + office.address() + " --port "
                                + office.router().sshPort())
                .replace(ADDRESS, office.address())
                .replace("keeper-key", office.keyFile().toString());
    }

    private static Pattern pattern(String line) {
        StringBuilder out = new StringBuilder();
        for (String part : line.stripTrailing().split("…", -1)) {
            out.append(out.isEmpty() ? "" : ".*").append(Pattern.quote(part));
        }
        return Pattern.compile(out.toString());
    }
}
