package tender.client;

import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import tender.api.Problem;
import tender.core.wire.MalformedException;

/** The client's root: {@code tender THING VERB}. */
@Command(
        name = "tender",
        version = "tender 0.1.0",
        mixinStandardHelpOptions = true,
        description = "Profiles for the people who connect to your offices, and the proof that they work.",
        subcommands = {
            SignInCommands.In.class, SignInCommands.Out.class, OverviewCommand.class, OperatorCommands.class, SiteCommands.class,
            GatewayCommands.class, PersonCommands.class, DeviceCommands.class, ProfileCommands.class, HandoutCommands.class,
            TrialCommands.class, SessionCommands.class, BackupCommands.class, FindingCommands.class, JobCommands.class,
            JournalCommands.class, Main.Completion.class
        },
        footer = {
            "",
            "The line of work:",
            "  tender gateway add pier2 --site pier-two --address 192.0.2.10 --user keeper --key-file key",
            "  tender profile issue mara phone --gateway pier2",
            "  tender handout prepare mara-phone-pier2",
            "  tender trial run mara-phone-pier2",
            "  tender session list",
            "  tender backup list --gateway pier2",
            "",
            "Exit codes: 0 well, 1 found something wrong, 2 wrong call, 3 not reachable, 4 not allowed."
        })
public final class Main {
    private Main() {}

    public static void main(String[] args) {
        System.exit(line().execute(args));
    }

    static CommandLine line() {
        CommandLine line = new CommandLine(new Main());
        line.setExecutionExceptionHandler((e, command, parsed) -> {
            if (e instanceof CallFailure failure) {
                tell(command, failure.problem());
                return failure.exitCode();
            }
            if (e instanceof MalformedException malformed) {
                command.getErr().println("tender: " + malformed.getMessage());
                return 2;
            }
            command.getErr().println("tender: " + e.getMessage());
            return 1;
        });
        line.setUsageHelpAutoWidth(true);
        return line;
    }

    private static void tell(CommandLine command, Problem problem) {
        command.getErr().println("tender: " + problem.detail());
        command.getErr().println("  do: " + problem.remedy());
    }

    /** Prints a completion script. */
    @Command(name = "completion", description = "Print shell completion: source <(tender completion)")
    static final class Completion extends Verb {
        @Override
        int run() {
            terminal.print(AutoComplete.bash("tender", line()));
            return 0;
        }
    }
}
