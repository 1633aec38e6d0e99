package tender.client;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ChangeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;

/** Findings. */
final class FindingCommands {
    private static final int MOST = 10_000;

    private FindingCommands() {}

    /** The finding that a word means: its number in the list, its key, or its code where that is found once. */
    private static WatchApi.Finding find(Calls calls, String word) {
        List<WatchApi.Finding> all = calls.list("/findings", WatchApi.Finding.class, MOST);
        if (word.matches("[1-9][0-9]{0,4}") && Integer.parseInt(word) <= all.size()) {
            return all.get(Integer.parseInt(word) - 1);
        }
        List<WatchApi.Finding> fit = all.stream()
                .filter(f ->
                        f.key().equals(word) || f.code().equals(word) || (f.code() + ":" + f.subject()).equals(word))
                .toList();
        if (fit.size() != 1) {
            throw CallFailure.of(
                    ProblemCode.NOT_FOUND,
                    fit.isEmpty()
                            ? "there is no such finding; tender finding list shows them"
                            : "several findings have this code; say CODE:SUBJECT, such as "
                                    + fit.get(0).code() + ":" + fit.get(0).subject());
        }
        return fit.get(0);
    }

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description = "All findings, worst first, accepted ones last. Exit code 1 when something breaks.")
    static final class Ls extends Verb {
        @Option(names = "--short", description = "One line each.")
        boolean brief;

        @Override
        int run() {
            List<WatchApi.Finding> all = calls().list("/findings", WatchApi.Finding.class, MOST);
            if (terminal.json) {
                terminal.json(all);
            } else if (all.isEmpty()) {
                terminal.say("nothing is wrong as far as the records tell");
            } else if (brief) {
                terminal.table(
                        List.of("NO", "HOW BAD", "CODE", "SUBJECT", "FOUND"),
                        java.util.stream.IntStream.range(0, all.size())
                                .mapToObj(i -> List.of(
                                        Integer.toString(i + 1),
                                        all.get(i).acceptedUntil().isPresent()
                                                ? "accepted"
                                                : all.get(i).severity(),
                                        all.get(i).code(),
                                        all.get(i).subject(),
                                        all.get(i).evidence()))
                                .toList(),
                        "");
            } else {
                int number = 0;
                for (WatchApi.Finding f : all) {
                    show(++number, f);
                }
            }
            return all.stream()
                            .anyMatch(f -> f.severity().equals("breaks")
                                    && f.acceptedUntil().isEmpty())
                    ? 1
                    : 0;
        }

        private void show(int number, WatchApi.Finding f) {
            terminal.print(f.severity() + "  " + f.subject() + "  (" + f.code() + ")");
            terminal.print("  found:  " + f.evidence());
            terminal.print("  breaks: " + f.breaks());
            terminal.print("  do:     " + f.remedy());
            f.oneStep().ifPresent(s -> terminal.print("  step:   tender finding mend " + number + "   (" + s + ")"));
            f.acceptedUntil()
                    .ifPresent(until -> terminal.print("  accepted until " + until + ": "
                            + f.acceptedReason().orElse("")));
        }
    }

    @Command(
            name = "mend",
            mixinStandardHelpOptions = true,
            description = "Mend a finding by its one step; what it would do is shown first.",
            footer = {"", "  tender finding mend 3", "  tender finding mend forward-wrong --dry-run"})
    static final class Mend extends Verb {
        @Parameters(paramLabel = "FINDING", description = "Its number in the list, its code, or CODE:SUBJECT.")
        String finding;

        @Option(names = "--dry-run", description = "Say what it would do; change nothing.")
        boolean dryRun;

        @Option(names = "--yes", description = "Do not ask.")
        boolean yes;

        @Override
        int run() {
            Calls calls = calls();
            WatchApi.Finding f = find(calls, finding);
            ChangeApi.Mend request = new ChangeApi.Mend(f.key());
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
            return ChangeCommands.await(
                    terminal, calls, calls.post("/findings/mend", request, ChangeApi.Ordered.class));
        }
    }

    @Command(
            name = "accept",
            mixinStandardHelpOptions = true,
            description = "Accept a finding for some days, with a reason.",
            footer = {"", "  tender finding accept 7 --days 30 --reason \"replaced in December\""})
    static final class Accept extends Verb {
        @Parameters(paramLabel = "FINDING")
        String finding;

        @Option(names = "--days", description = "For how long. Default: 30")
        int days = 30;

        @Option(names = "--reason", required = true)
        String reason;

        @Override
        int run() {
            Calls calls = calls();
            Instant until = Instant.now().plus(Duration.ofDays(days));
            calls.post(
                    "/findings/accept",
                    new ChangeApi.Accept(find(calls, finding).key(), reason, until),
                    null);
            terminal.say("accepted until " + until);
            return 0;
        }
    }

    @Command(name = "reopen", mixinStandardHelpOptions = true, description = "Take an acceptance back.")
    static final class Reopen extends Verb {
        @Parameters(paramLabel = "FINDING")
        String finding;

        @Override
        int run() {
            Calls calls = calls();
            calls.post(
                    "/findings/reopen", new ChangeApi.Mend(find(calls, finding).key()), null);
            terminal.say("it is a finding again");
            return 0;
        }
    }
}
