package tender.client.operator;

import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tender.client.command.ClientCommand;
import tender.client.command.Fresh;

/** Proves anew who is signed in. */
@Command(
        name = "confirm",
        mixinStandardHelpOptions = true,
        description = {
            "Confirm your password. For five minutes, Tender does not ask again before it shows secrets or extends trust.",
            "Commands that need it ask by themselves at a terminal; in scripts TENDER_PASSWORD_FILE names a file whose "
                    + "first line is the password."
        },
        footer = {"", "  tender operator confirm --password-fd 3 3</run/keys/tender"})
final class ConfirmCommand extends ClientCommand {
    @Option(names = "--password-fd", paramLabel = "N", description = "Read the password from this file descriptor.")
    Optional<Integer> passwordFd;

    @Option(names = "--code", description = "One-time code, where the account has a second factor.")
    Optional<String> code;

    @Override
    protected int run() {
        terminal.say("good until " + Fresh.prove(calls(), passwordFd, code).until());
        return 0;
    }
}
