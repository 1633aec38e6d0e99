package tender.client.operator;

import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OperatorApi;
import tender.client.command.Account;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;

/** Signing in and out. */
final class SignInCommands {
    private SignInCommands() {}

    @Command(
            name = "sign-in",
            mixinStandardHelpOptions = true,
            description =
                    "Sign in to a service. The token is kept in a file that only you can read and expires after 30 days at most.",
            footer = {"", "  tender sign-in https://tender.skerrivane.example --name owner"})
    static final class In extends ClientCommand {
        @Parameters(paramLabel = "SERVICE", description = "Address of the service.")
        String service;

        @Option(names = "--name", required = true, description = "Your operator name.")
        String name;

        @Option(names = "--password-fd", paramLabel = "N", description = "Read the password from this file descriptor.")
        Optional<Integer> passwordFd;

        @Option(names = "--code", description = "One-time code, where the account has a second factor.")
        Optional<String> code;

        @Option(
                names = "--scope",
                description = "read or operate: a token for reading cannot change anything. Default: operate")
        Optional<String> scope;

        @Option(names = "--days", paramLabel = "N", description = "How long the token works, 1 to 30 days. Default: 30")
        Optional<Integer> days;

        @Option(names = "--label", description = "What the list of your tokens calls this one. Default: client")
        Optional<String> label;

        @Override
        protected int run() {
            Secret password = terminal.secret("password of " + name, passwordFd);
            OperatorApi.SignedIn done = new Calls(service, Optional.empty())
                    .post(
                            "/sign-in",
                            new OperatorApi.SignIn(
                                    name,
                                    password,
                                    code,
                                    Optional.of(true),
                                    label.or(() -> Optional.of("client")),
                                    scope,
                                    days),
                            OperatorApi.SignedIn.class);
            new Account(service, done.token().orElseThrow().revealText(RevealSecret.TO_SIGN_IN)).save();
            terminal.say("signed in as " + name + " until " + done.expiresAt());
            if (done.operator().mustChangePassword()) {
                terminal.say("  do: tender operator password");
            }
            if (done.operator().enrolNeeded()) {
                terminal.say("  this installation asks everyone for a one-time code; do: tender operator code");
            }
            return 0;
        }
    }

    @Command(
            name = "sign-out",
            mixinStandardHelpOptions = true,
            description = "End this client's sign-in; its token is revoked.")
    static final class Out extends ClientCommand {
        @Override
        protected int run() {
            calls().post("/sign-out", null, null);
            Account.forget();
            terminal.say("signed out");
            return 0;
        }
    }
}
