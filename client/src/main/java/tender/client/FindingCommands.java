package tender.client;

import java.util.List;
import picocli.CommandLine.Command;
import tender.api.WatchApi;

/** Findings. */
final class FindingCommands {
    private FindingCommands() {}

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description = "All findings, worst first. Exit code 1 when something breaks.")
    static final class Ls extends Verb {
        @Override
        int run() {
            List<WatchApi.Finding> all = calls().list("/findings", WatchApi.Finding.class, 10_000);
            if (terminal.json) {
                terminal.json(all);
            } else if (all.isEmpty()) {
                terminal.say("nothing is wrong as far as the records tell");
            } else {
                all.forEach(f -> {
                    terminal.print(f.severity() + "  " + f.subject() + "  (" + f.code() + ")");
                    terminal.print("  found:  " + f.evidence());
                    terminal.print("  breaks: " + f.breaks());
                    terminal.print("  do:     " + f.remedy());
                });
            }
            return all.stream().anyMatch(f -> f.severity().equals("breaks")) ? 1 : 0;
        }
    }
}
