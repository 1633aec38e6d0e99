package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** The list of causes in the document on trials is the one that the code has. */
class CausesDocumentTest {
    private static final String HEADING = "## All causes";

    private static void add(String kind, List<? extends CauseTable.Row<?>> rows, Map<String, List<String>> out) {
        for (CauseTable.Row<?> r : rows) {
            String line = r.rung().label() + " | `" + r.code() + "` | "
                    + r.certainty().name().toLowerCase(Locale.ROOT) + " | " + r.what() + " | " + r.remedy();
            List<String> kinds = out.computeIfAbsent(line, x -> new ArrayList<>());
            if (!kinds.contains(kind)) {
                kinds.add(kind);
            }
        }
    }

    private static String markdown() {
        Map<String, List<String>> lines = new LinkedHashMap<>();
        add("WireGuard", Causes.TABLE.rows(), lines);
        add("OpenVPN", OpenVpnCauses.TABLE.rows(), lines);
        add("IKEv2", IkeCauses.TABLE.rows(), lines);
        add("L2TP, TLS", ProbeLadder.rowsOfTheTable(), lines);
        Map<String, Integer> order = new LinkedHashMap<>();
        for (Rung rung : Rung.values()) {
            order.put(rung.label(), rung.ordinal());
        }
        return HEADING
                + "\n\nGenerated from the tables in the code. A trial also names what the gateway's log says, and the hop, listener or network concerned.\n\n"
                + "| rung | code | | what | what to do | of |\n| --- | --- | --- | --- | --- | --- |\n"
                + lines.entrySet().stream()
                        .sorted((a, b) -> order.get(a.getKey().split(" \\| ")[0])
                                - order.get(b.getKey().split(" \\| ")[0]))
                        .map(e -> "| " + e.getKey() + " | " + String.join(", ", e.getValue()) + " |\n")
                        .collect(Collectors.joining());
    }

    @Test
    void everyCauseStandsInTheDocument() throws IOException {
        Path document = Path.of("../docs/trials.md");
        String text = Files.readString(document);
        String before =
                text.contains(HEADING) ? text.substring(0, text.indexOf(HEADING)) : text.stripTrailing() + "\n\n";
        if (Boolean.getBoolean("write.docs")) {
            Files.writeString(document, before + markdown());
        }
        assertThat(document).hasContent(before + markdown());
    }
}
