package tender.client;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tender.api.WatchApi;

/** The journal. */
final class JournalCommands {
    private JournalCommands() {}

    @Command(name = "list", mixinStandardHelpOptions = true, description = "Entries, newest first.")
    static final class Ls extends Verb {
        @Option(names = "--limit", description = "How many. Default: 50")
        int limit = 50;

        @Override
        int run() {
            List<WatchApi.JournalEntry> all = calls().list("/journal", WatchApi.JournalEntry.class, limit);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("NO.", "AT", "WHO", "WHAT", "TO", "DETAIL"),
                        all.stream()
                                .map(e -> List.of(
                                        Long.toString(e.number()),
                                        e.at().toString(),
                                        e.actor().replaceAll("(operator:.{8}).*", "$1"),
                                        e.action(),
                                        e.subjectKind(),
                                        e.detail()))
                                .toList(),
                        "the journal is empty");
            }
            return 0;
        }
    }

    @Command(
            name = "verify",
            mixinStandardHelpOptions = true,
            description = "Check the whole chain. Exit code 1 when it is broken.")
    static final class Verify extends Verb {
        @Override
        int run() {
            WatchApi.Chain chain = calls().post("/journal/verify", null, WatchApi.Chain.class);
            if (terminal.json) {
                terminal.json(chain);
            } else {
                terminal.print(
                        chain.whole()
                                ? "the chain is whole"
                                : "the chain is broken at entry "
                                        + chain.firstBroken()
                                                .map(String::valueOf)
                                                .orElse("?"));
            }
            return chain.whole() ? 0 : 1;
        }
    }
}
