package tender.client.departure;

import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.client.command.ClientCommand;

/** Somebody leaves, or a device is lost. */
public final class LeaveCommands {
    private LeaveCommands() {}

    /** How it is done. */
    static final class How {
        @Option(names = "--dry-run", description = "Show what would end; do nothing.")
        boolean dryRun;

        @Option(names = "--yes", description = "Do not ask.")
        boolean yes;

        @Option(
                names = "--no-wait",
                description = "Do not wait until trials have shown it; tender departure show tells.")
        boolean noWait;
    }

    @Command(
            name = "leave",
            mixinStandardHelpOptions = true,
            description = {
                "Somebody leaves: withdraw all their profiles on every gateway, end their links and requests, and show with the very"
                        + " files that each is refused while another profile of the same listener is let in.",
                "What cannot be reached stays open, is tried again, and shows its age until it is done. Exit code 1 if something is open."
            },
            footer = {"", "  tender person leave mara --dry-run", "  tender person leave mara"})
    public static final class Leave extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String handle;

        @Mixin
        How how;

        @Override
        protected int run() {
            int code = DepartureCommands.depart(terminal, calls(), "/people/" + handle + "/leave", how);
            if (code == 0 && !how.dryRun && !how.noWait) {
                terminal.say("  do: tender person remove " + handle + "   when their name is needed no more");
            }
            return code;
        }
    }

    @Command(
            name = "lost",
            mixinStandardHelpOptions = true,
            description =
                    "A device is lost: withdraw its profiles on every gateway, and show with the very files that each is refused.",
            footer = {"", "  tender device lost mara phone --dry-run", "  tender device lost mara phone"})
    public static final class Lost extends ClientCommand {
        @Parameters(index = "0", paramLabel = "PERSON")
        String handle;

        @Parameters(index = "1", paramLabel = "DEVICE")
        String device;

        @Mixin
        How how;

        @Override
        protected int run() {
            return DepartureCommands.depart(
                    terminal, calls(), "/people/" + handle + "/devices/" + device + "/lost", how);
        }
    }
}
