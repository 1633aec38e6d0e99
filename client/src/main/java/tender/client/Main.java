package tender.client;

import java.util.List;
import java.util.stream.Stream;
import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import tender.api.Problem;
import tender.client.authority.AuthorityGroup;
import tender.client.change.ChangeGroup;
import tender.client.command.CallFailure;
import tender.client.command.ClientCommand;
import tender.client.command.CommandGroup;
import tender.client.command.Terminal;
import tender.client.departure.DepartureGroup;
import tender.client.explain.ExplainGroup;
import tender.client.finding.FindingGroup;
import tender.client.gateway.GatewayGroup;
import tender.client.handout.HandoutGroup;
import tender.client.instruction.InstructionGroup;
import tender.client.operator.OperatorGroup;
import tender.client.person.PersonGroup;
import tender.client.profile.ProfileGroup;
import tender.client.provision.ProvisionGroup;
import tender.client.trial.TrialGroup;
import tender.client.watch.WatchGroup;
import tender.core.wire.MalformedException;

/** The client's root: {@code tender THING VERB}. */
public final class Main {
    private static final List<CommandGroup> ALL = Stream.of(
                    OperatorGroup.ALL,
                    GatewayGroup.ALL,
                    ChangeGroup.ALL,
                    PersonGroup.ALL,
                    ProfileGroup.ALL,
                    InstructionGroup.ALL,
                    DepartureGroup.ALL,
                    ProvisionGroup.ALL,
                    AuthorityGroup.ALL,
                    HandoutGroup.ALL,
                    TrialGroup.ALL,
                    WatchGroup.ALL,
                    FindingGroup.ALL,
                    ExplainGroup.ALL)
            .flatMap(List::stream)
            .toList();
    private static final List<CommandGroup> ALONE = Stream.of(
                    OperatorGroup.ALONE,
                    ProfileGroup.ALONE,
                    WatchGroup.ALONE,
                    List.of(new CommandGroup("completion", "Print shell completion.", List.of(Completion.class))))
            .flatMap(List::stream)
            .toList();

    private static final String[] FOOTER = {
        "",
        "The usual steps:",
        "  tender import exports/",
        "  tender gateway add pier2 --site pier-two --address 192.0.2.10 --user keeper --key-file key",
        "  tender profile issue mara phone --gateway pier2",
        "  tender handout prepare mara-phone-pier2",
        "  tender trial run mara-phone-pier2",
        "  tender session list",
        "  tender backup list --gateway pier2",
        "",
        "Exit codes: 0 ok, 1 something is wrong, 2 wrong call, 3 not reachable, 4 not allowed."
    };

    private Main() {}

    public static void main(String[] args) {
        String addressed = args.length > 0 ? args[0] : "";
        System.exit(line(addressed).execute(args));
    }

    /** The commands; only those of the addressed thing are built whole, with {@code "completion"} all are. */
    static CommandLine line(String addressed) {
        CommandSpec root = withHelp(CommandSpec.create().name("tender").version("tender 0.1.0"));
        root.addOption(OptionSpec.builder("-V", "--version")
                .versionHelp(true)
                .description("Print the version and exit.")
                .build());
        root.usageMessage()
                .description("Profiles for the people who connect to your offices, and the proof that they work.")
                .footer(FOOTER);
        CommandLine line = new CommandLine(root);
        boolean all = addressed.equals("completion");
        for (CommandGroup thing : ALONE) {
            boolean whole = all || thing.name().equals(addressed);
            line.addSubcommand(thing.name(), whole ? thing.verbs().get(0) : bare(thing));
        }
        for (CommandGroup thing : ALL) {
            CommandLine group = new CommandLine(bare(thing));
            if (all || thing.name().equals(addressed)) {
                thing.verbs().forEach(group::addSubcommand);
            }
            line.addSubcommand(thing.name(), group);
        }
        if (addressed.equals("class-data")) {
            line.addSubcommand(ClassData.class);
        }
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
        line.setUsageHelpWidth(Math.max(80, Math.min(Terminal.width(), 120)));
        return line;
    }

    /** Options are added one by one: the library's mixin reads annotations, which costs every start some milliseconds. */
    private static CommandSpec withHelp(CommandSpec spec) {
        return spec.addOption(OptionSpec.builder("-h", "--help")
                .usageHelp(true)
                .description("Show this help and exit.")
                .build());
    }

    private static CommandSpec bare(CommandGroup thing) {
        CommandSpec spec = withHelp(CommandSpec.create().name(thing.name()));
        spec.usageMessage().description(thing.description());
        return spec;
    }

    private static void tell(CommandLine command, Problem problem) {
        command.getErr().println("tender: " + problem.detail());
        command.getErr().println("  do: " + problem.remedy());
    }

    /** Prints a completion script. */
    @Command(
            name = "completion",
            mixinStandardHelpOptions = true,
            description = "Print shell completion: source <(tender completion)")
    static final class Completion extends ClientCommand {
        @Override
        protected int run() {
            terminal.print(AutoComplete.bash("tender", line("completion")));
            return 0;
        }
    }
}
