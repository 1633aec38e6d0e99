package tender.client.watch;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import tender.api.WatchApi;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Terminal;
import tender.client.command.WhoseOptions;

/** Connections. */
final class SessionCommands {
    private SessionCommands() {}

    private static final List<String> HEADS =
            List.of("PERSON", "DEVICE", "GATEWAY", "ADDRESS", "SINCE", "LAST HEARD", "IN", "OUT", "FROM");

    private static List<String> row(WatchApi.Session s) {
        String who = s.personName()
                .orElse(
                        s.origin().equals("canary")
                                ? "(Tender's canary)"
                                : s.profile().orElse("unknown key"));
        return List.of(
                who,
                s.device().orElse(""),
                s.gateway(),
                String.join(", ", s.addresses()),
                Terminal.ago(s.since()),
                Terminal.ago(s.lastHeard()),
                Terminal.bytes(s.received()),
                Terminal.bytes(s.sent()),
                s.endpoint());
    }

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List sessions: who is or was connected.")
    static final class Ls extends ClientCommand {
        @Mixin
        WhoseOptions whose;

        @Option(names = "--past", description = "Ended connections, newest first.")
        boolean past;

        @Option(names = "--limit", description = "How many. Default: 200")
        int limit = 200;

        @Option(
                names = "--sort",
                paramLabel = "COLUMN",
                description = "person, gateway, since, heard, received or sent; --sort=-COLUMN puts the last first.")
        Optional<String> sort;

        @Override
        protected int run() {
            List<WatchApi.Session> all = calls().list(
                            whose.query(
                                    "/sessions",
                                    Map.of("past", past ? Optional.of("true") : Optional.empty(), "sort", sort)),
                            WatchApi.Session.class,
                            limit);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        HEADS,
                        all.stream().map(SessionCommands::row).toList(),
                        whose.isNarrowed()
                                ? "no connection fits"
                                : past ? "nobody was connected yet" : "nobody is connected");
            }
            return 0;
        }
    }

    @Command(
            name = "watch",
            mixinStandardHelpOptions = true,
            description = "Watch who is connected; refreshed every few seconds until interrupted.")
    static final class Watch extends ClientCommand {
        @Option(names = "--seconds", description = "How often. Default: 3")
        int seconds = 3;

        @Option(names = "--times", description = "Stop after so many. Default: never")
        int times = Integer.MAX_VALUE;

        @Override
        protected int run() {
            Calls calls = calls();
            for (int i = 0; i < times; i++) {
                List<WatchApi.Session> all = calls.list("/sessions", WatchApi.Session.class, 200);
                if (terminal.isTerminal()) {
                    terminal.print("\033[H\033[2J" + all.size() + " connected");
                }
                terminal.table(HEADS, all.stream().map(SessionCommands::row).toList(), "nobody is connected");
                for (int waited = 0; i + 1 < times && waited < seconds * 8; waited++) {
                    Calls.pause();
                }
            }
            return 0;
        }
    }
}
