package tender.client.watch;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Times;

/** The journal. */
final class JournalCommands {
    private JournalCommands() {}

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List journal entries, newest first.")
    static final class Ls extends ClientCommand {
        @Option(names = "--who", description = "An operator's name, or tender for what it does by itself.")
        Optional<String> who;

        @Option(names = "--action", description = "Such as profile-issued; --json shows the words.")
        Optional<String> action;

        @Option(names = "--subject", description = "A kind of thing, such as gateway.")
        Optional<String> subject;

        @Option(names = "--since", paramLabel = "TIME", description = "From then on: " + Times.WRITTEN)
        Optional<String> since;

        @Option(names = "--limit", description = "How many. Default: 50")
        int limit = 50;

        @Override
        protected int run() {
            Map<String, Optional<String>> asked = Map.of(
                    "who",
                    who,
                    "action",
                    action,
                    "subject",
                    subject,
                    "since",
                    since.map(t -> Times.read(t).toString()));
            List<WatchApi.JournalEntry> all =
                    calls().list(Calls.query("/journal", asked), WatchApi.JournalEntry.class, limit);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("NO.", "AT", "WHO", "WHAT", "DETAIL"),
                        all.stream()
                                .map(e -> List.of(
                                        Long.toString(e.number()), e.at().toString(), e.who(), e.what(), e.detail()))
                                .toList(),
                        asked.values().stream().anyMatch(Optional::isPresent)
                                ? "no entry fits"
                                : "the journal is empty");
            }
            return 0;
        }
    }

    @Command(
            name = "verify",
            mixinStandardHelpOptions = true,
            description = "Verify the journal's hash chain. Exit code 1 if it is broken.",
            footer = {
                "",
                "  tender journal verify --head 4211:9f86d081884c7d659a2feaa0c55ad015a3bf4f1b2b0b822cd15d6c15b0f00a08"
            })
    static final class Verify extends ClientCommand {
        @Option(
                names = "--head",
                paramLabel = "NUMBER:HASH",
                description = "A journal head that you kept elsewhere; it must still be in the chain.")
        Optional<String> head;

        @Override
        protected int run() {
            WatchApi.Chain chain =
                    calls().post("/journal/verify", head.map(Verify::parsed).orElse(null), WatchApi.Chain.class);
            boolean held = chain.headHolds().orElse(true);
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
                if (!held) {
                    terminal.print(
                            "what was written down elsewhere does not stand here: entries were changed or cut off");
                }
                terminal.print("end of the chain: " + chain.head().number() + ":"
                        + chain.head().hash());
            }
            return chain.whole() && held ? 0 : 1;
        }

        private static WatchApi.Head parsed(String text) {
            if (!text.matches("[0-9]{1,18}:[0-9a-f]{64}")) {
                throw CallFailure.of(ProblemCode.MALFORMED, "--head is NUMBER:HASH, as it was written down");
            }
            int colon = text.indexOf(':');
            return new WatchApi.Head(Long.parseLong(text.substring(0, colon)), text.substring(colon + 1));
        }
    }
}
