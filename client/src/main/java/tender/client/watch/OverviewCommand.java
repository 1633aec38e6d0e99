package tender.client.watch;

import java.util.List;
import picocli.CommandLine.Command;
import tender.api.WatchApi;
import tender.client.command.ClientCommand;

/** What needs somebody now. */
@Command(name = "overview", mixinStandardHelpOptions = true, description = "Overview: what there is and what waits.")
final class OverviewCommand extends ClientCommand {
    @Override
    protected int run() {
        WatchApi.Overview o = calls().get("/overview", WatchApi.Overview.class);
        if (terminal.json) {
            terminal.json(o);
            return 0;
        }
        terminal.table(
                List.of("AREA", "COUNT", "OPEN", "WORST"),
                o.areas().stream()
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
