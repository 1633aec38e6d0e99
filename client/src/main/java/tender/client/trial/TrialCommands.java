package tender.client.trial;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.TrialApi;
import tender.client.command.ClientCommand;
import tender.client.command.Terminal;
import tender.client.command.WhoseOptions;

/** Trials. */
final class TrialCommands {
    static final int ECHOES = 20;
    /** What is meant as a file and no profile's label, which has neither folders nor an ending. */
    static final String FILE_NAME = "(?i).*[/\\\\].*|.+\\.(conf|ovpn|txt|zip|pem|p12|pfx|swanctl|xml|json|tar|gz)";

    private TrialCommands() {}

    static void show(Terminal terminal, TrialApi.Trial t) {
        if (terminal.json) {
            terminal.json(t);
            return;
        }
        terminal.print(
                t.subject() + ", tried from the " + t.vantage() + (t.result().isEmpty() ? "" : ": " + t.result()));
        t.note().ifPresent(note -> terminal.print("  note: " + note));
        t.rungs().forEach(r -> rung(terminal, r));
        t.measured().ifPresent(m -> measured(terminal, m));
        boolean proven = t.proven().orElse(false);
        terminal.print(
                t.state().equals("failed")
                        ? "not tried: " + t.note().orElse("")
                        : terminal.colour(proven ? 32 : 31, t.verdict().orElse(t.state()))
                                + (proven ? ", rests on " + t.restsOn() : ""));
    }

    private static void measured(Terminal terminal, TrialApi.Measured m) {
        if (m.echoes() > 0) {
            terminal.print(String.format(
                    Locale.ROOT,
                    "  measured: %d echoes, %.0f %% lost, round trip %.1f to %.1f ms, %.1f on average",
                    m.echoes(),
                    m.lostPercent(),
                    m.leastMillis(),
                    m.mostMillis(),
                    m.meanMillis()));
        }
        m.largestPacket()
                .ifPresent(size -> terminal.print("  measured: packets of up to " + size
                        + " bytes come back whole; a tunnel packet size of " + size + " fits"));
        m.name()
                .ifPresent(n -> terminal.print("  measured: the name server inside, " + n.server() + ", "
                        + (n.answered()
                                ? n.address()
                                        .map(a -> "says " + n.name() + " is " + a)
                                        .orElse("does not know " + n.name())
                                : "does not answer")));
        m.exit().ifPresent(e -> terminal.print("  measured: " + e.words()));
        m.transfer().ifPresent(t -> terminal.print("  measured: " + t.words()));
    }

    private static void rung(Terminal terminal, TrialApi.Rung r) {
        String mark = switch (r.verdict()) {
            case "ok" -> "●";
            case "fails" -> "✕";
            case "open" -> "○";
            default -> "·";
        };
        String time = r.verdict().equals("not tried") ? "" : r.millis() + " ms";
        terminal.print(String.format("  %s %-15s %-10s %8s  %s", mark, r.rung(), r.verdict(), time, r.detail()));
        r.causes().forEach(c -> {
            terminal.print(String.format("      %-9s %s", c.certainty() + ":", c.what()));
            terminal.print(String.format("      %-9s %s", "do:", c.remedy()));
        });
    }

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List trials, newest first.")
    static final class Ls extends ClientCommand {
        @Mixin
        WhoseOptions whose;

        @Option(names = "--limit", description = "How many. Default: 50")
        int limit = 50;

        @Option(
                names = "--sort",
                paramLabel = "COLUMN",
                description = "profile, verdict or when; --sort=-COLUMN puts the last first.")
        Optional<String> sort;

        @Override
        protected int run() {
            List<TrialApi.Trial> all =
                    calls().list(whose.query("/trials", Map.of("sort", sort)), TrialApi.Trial.class, limit);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("PROFILE", "VERDICT", "RESTS ON", "FROM", "WHEN", "ID"),
                        all.stream()
                                .map(t -> List.of(
                                        t.profile(),
                                        t.verdict().orElse(t.state()),
                                        t.restsOn(),
                                        t.vantage(),
                                        Terminal.ago(t.createdAt()),
                                        t.id()))
                                .toList(),
                        whose.isNarrowed() ? "no trial fits" : "no trials yet; run one: tender trial run PROFILE");
            }
            return 0;
        }
    }

    @Command(name = "show", mixinStandardHelpOptions = true, description = "Show a trial step by step.")
    static final class Show extends ClientCommand {
        @Parameters(paramLabel = "ID")
        String id;

        @Override
        protected int run() {
            show(terminal, calls().get("/trials/" + id, TrialApi.Trial.class));
            return 0;
        }
    }
}
