package tender.client;

import java.util.List;
import picocli.CommandLine.Command;
import tender.api.WatchApi;

/** What needs somebody now. */
@Command(
        name = "overview",
        mixinStandardHelpOptions = true,
        description = "The line of work: how much there is, and what waits.")
final class OverviewCommand extends Verb {
    @Override
    int run() {
        WatchApi.Overview o = calls().get("/overview", WatchApi.Overview.class);
        if (terminal.json) {
            terminal.json(o);
            return 0;
        }
        terminal.table(
                List.of("STATION", "COUNT", "WAITING", "WORST"),
                o.stations().stream()
                        .map(s -> List.of(
                                s.label(),
                                Long.toString(s.count()),
                                s.waiting() == 0 ? "" : Long.toString(s.waiting()),
                                s.worst()))
                        .toList(),
                "");
        o.instructions().forEach(i -> terminal.print("by hand: " + i.profile() + ": " + i.words()));
        o.findings().forEach(f -> terminal.print(f.severity() + ": " + f.subject() + ": " + f.breaks()));
        return 0;
    }
}
