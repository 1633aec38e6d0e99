package tender.client.watch;

import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import tender.api.WatchApi;
import tender.client.command.ClientCommand;

/** What needs somebody now. */
@Command(name = "overview", mixinStandardHelpOptions = true, description = "Overview: what there is and what waits.")
final class OverviewCommand extends ClientCommand {
    /** Where each thing that needs attention is listed. */
    private static final Map<String, String> NEXT = Map.of(
            "unreachable", "tender gateway list --state unreachable",
            "identity", "tender gateway list --state identity-not-accepted",
            "failed", "tender profile list --state failed",
            "failing", "tender profile list --open failing",
            "without-backup", "tender gateway list --sort=backup",
            "not-handed-out", "tender profile list --open not-handed-out",
            "files-requested", "tender request list",
            "not-refused", "tender departure list",
            "uncollected", "tender handout list --sort=collected",
            "unproven", "tender profile list --open unproven");

    @Override
    protected int run() {
        WatchApi.Overview o = calls().get("/overview", WatchApi.Overview.class);
        if (terminal.json) {
            terminal.json(o);
            return 0;
        }
        terminal.table(
                List.of("AREA", "COUNT", "OPEN"),
                o.areas().stream()
                        .map(s -> List.of(
                                s.label(),
                                Long.toString(s.count()),
                                s.waiting() == 0 ? "" : Long.toString(s.waiting())))
                        .toList(),
                "");
        o.attention()
                .forEach(a -> terminal.print(a.words() + ": " + NEXT.getOrDefault(a.kind(), "tender finding list")));
        o.instructions()
                .forEach(i -> terminal.print(
                        "by hand: " + (i.profileId().isPresent() ? i.subject() + ": " : "") + i.words()));
        o.findings().forEach(f -> terminal.print(f.severity() + ": " + f.subject() + ": " + f.breaks()));
        return 0;
    }
}
