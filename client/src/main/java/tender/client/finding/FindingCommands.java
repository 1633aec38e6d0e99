package tender.client.finding;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ChangeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.client.change.ChangeCommands;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Terminal;
import tender.client.command.Times;

/** Findings. */
final class FindingCommands {
    private static final int MOST = 10_000;

    private FindingCommands() {}

    private static final int SHOWN = 5;
    private static final String WHICH = "Its code where that is found once, or CODE:SUBJECT.";

    /** How a finding is named in commands. */
    private static String name(WatchApi.Finding f) {
        String name = f.code() + ":" + f.subject();
        return name.indexOf(' ') < 0 ? name : "\"" + name + "\"";
    }

    /** The finding that a word means: its code where that is found once, or its code and subject. */
    private static WatchApi.Finding find(Calls calls, String word) {
        String code = word.indexOf(':') < 0 ? word : word.substring(0, word.indexOf(':'));
        List<WatchApi.Finding> all =
                calls.list(Calls.query("/findings", Map.of("code", Optional.of(code))), WatchApi.Finding.class, MOST);
        List<WatchApi.Finding> fit = all.stream()
                .filter(f -> f.code().equals(word) || (f.code() + ":" + f.subject()).equals(word))
                .toList();
        if (fit.size() != 1) {
            throw CallFailure.of(
                    ProblemCode.NOT_FOUND,
                    fit.isEmpty()
                            ? "there is no such finding; tender finding list shows them"
                            : "several findings have this code; name one: "
                                    + fit.stream()
                                            .limit(SHOWN)
                                            .map(FindingCommands::name)
                                            .collect(Collectors.joining(", ")));
        }
        return fit.get(0);
    }

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description =
                    "List findings, worst first, accepted ones last. Exit code 1 if there is an error that nobody accepted.")
    static final class Ls extends ClientCommand {
        @Option(names = "--short", description = "One line each.")
        boolean brief;

        @Option(names = "--gateway", description = "Of this gateway.")
        Optional<String> gateway;

        @Option(names = "--severity", description = "error, warning or notice")
        Optional<String> severity;

        @Option(names = "--code", description = "Of this code, such as forward-wrong.")
        Optional<String> code;

        @Option(names = "--text", description = "A part of the subject.")
        Optional<String> text;

        @Option(names = "--open", description = "Without those that somebody accepted.")
        boolean open;

        @Override
        protected int run() {
            List<WatchApi.Finding> all = calls().list(
                            Calls.query(
                                    "/findings",
                                    Map.of(
                                            "gateway",
                                            gateway,
                                            "severity",
                                            severity,
                                            "code",
                                            code,
                                            "text",
                                            text,
                                            "open",
                                            open ? Optional.of("yes") : Optional.empty())),
                            WatchApi.Finding.class,
                            MOST);
            boolean narrowed = open || Stream.of(gateway, severity, code, text).anyMatch(Optional::isPresent);
            if (terminal.json) {
                terminal.json(all);
            } else if (all.isEmpty()) {
                terminal.say(narrowed ? "no finding fits" : "nothing is wrong as far as the records tell");
            } else if (brief) {
                terminal.table(
                        List.of("SEVERITY", "CODE", "SUBJECT", "FOUND"),
                        all.stream()
                                .map(f -> List.of(
                                        f.acceptedUntil().isPresent() ? "accepted" : f.severity(),
                                        f.code(),
                                        f.subject(),
                                        f.evidence()))
                                .toList(),
                        "");
            } else {
                all.forEach(f -> show(terminal, f));
            }
            return all.stream()
                            .anyMatch(f -> f.severity().equals("error")
                                    && f.acceptedUntil().isEmpty())
                    ? 1
                    : 0;
        }
    }

    private static void show(Terminal terminal, WatchApi.Finding f) {
        terminal.print(f.severity() + "  " + f.subject() + "  (" + f.code() + ")");
        terminal.print("  found:  " + f.evidence());
        terminal.print("  breaks: " + f.breaks());
        terminal.print("  do:     " + f.remedy());
        f.oneStep().ifPresent(s -> terminal.print("  step:   tender finding fix " + name(f) + "   (" + s + ")"));
        f.acceptedUntil()
                .ifPresent(until -> terminal.print(
                        "  accepted until " + until + ": " + f.acceptedReason().orElse("")));
    }

    @Command(
            name = "show",
            mixinStandardHelpOptions = true,
            description = "Show a finding: what is wrong, what it breaks, and the remedy.",
            footer = {"", "  tender finding show forward-wrong:orrin-fw"})
    static final class Show extends ClientCommand {
        @Parameters(paramLabel = "FINDING", description = WHICH)
        String finding;

        @Override
        protected int run() {
            WatchApi.Finding f = find(calls(), finding);
            if (terminal.json) {
                terminal.json(f);
            } else {
                show(terminal, f);
            }
            return 0;
        }
    }

    @Command(
            name = "fix",
            mixinStandardHelpOptions = true,
            description = "Fix a finding in one step. Tender shows the change first.",
            footer = {"", "  tender finding fix forward-wrong --dry-run", "  tender finding fix clock-off:pier3"})
    static final class Fix extends ClientCommand {
        @Parameters(paramLabel = "FINDING", description = WHICH)
        String finding;

        @Option(names = "--dry-run", description = "Show what would change; change nothing.")
        boolean dryRun;

        @Option(names = "--yes", description = "Do not ask.")
        boolean yes;

        @Override
        protected int run() {
            Calls calls = calls();
            WatchApi.Finding f = find(calls, finding);
            ChangeApi.FindingKey request = new ChangeApi.FindingKey(f.key());
            ChangeApi.Preview preview = calls.post("/findings/preview", request, ChangeApi.Preview.class);
            if (dryRun || !terminal.json) {
                ChangeCommands.show(terminal, preview);
            }
            if (dryRun) {
                terminal.say("nothing was changed");
                return 0;
            }
            if (!terminal.confirmed("Make this change?", yes)) {
                return 1;
            }
            return ChangeCommands.await(terminal, calls, calls.post("/findings/fix", request, ChangeApi.Ordered.class));
        }
    }

    @Command(
            name = "accept",
            mixinStandardHelpOptions = true,
            description = "Accept a finding for some time, with a reason.",
            footer = {
                "",
                "  tender finding accept \"cipher-weak:slip-nas openvpn\" --until 2027-01-20 --reason \"replaced in January\""
            })
    static final class Accept extends ClientCommand {
        @Parameters(paramLabel = "FINDING", description = WHICH)
        String finding;

        @Option(
                names = "--until",
                paramLabel = "TIME",
                description = "Until when: a date, or a length such as 30d. Default: 30d")
        String until = "30d";

        @Option(names = "--reason", required = true)
        String reason;

        @Override
        protected int run() {
            Calls calls = calls();
            Instant end = Times.until(until);
            WatchApi.Finding f = find(calls, finding);
            calls.post("/findings/accept", new ChangeApi.Accept(f.key(), reason, end), null);
            terminal.say(name(f) + " is accepted until " + end);
            return 0;
        }
    }

    @Command(name = "reopen", mixinStandardHelpOptions = true, description = "Reopen an accepted finding.")
    static final class Reopen extends ClientCommand {
        @Parameters(paramLabel = "FINDING", description = WHICH)
        String finding;

        @Override
        protected int run() {
            Calls calls = calls();
            calls.post(
                    "/findings/reopen",
                    new ChangeApi.FindingKey(find(calls, finding).key()),
                    null);
            terminal.say("it is a finding again");
            return 0;
        }
    }
}
