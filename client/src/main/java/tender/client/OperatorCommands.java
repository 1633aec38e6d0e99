package tender.client;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OperatorApi;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;

/** Accounts. */
final class OperatorCommands {
    private OperatorCommands() {}

    private static List<String> row(OperatorApi.Operator o) {
        return List.of(
                o.name(),
                o.role(),
                o.hasCode() ? "second factor" : "",
                o.mustChangePassword() ? "first password not changed" : "");
    }

    @Command(name = "me", mixinStandardHelpOptions = true, description = "Who is signed in here.")
    static final class Me extends Verb {
        @Override
        int run() {
            OperatorApi.Operator me = calls().get("/me", OperatorApi.Operator.class);
            if (terminal.json) {
                terminal.json(me);
            } else {
                terminal.print(me.name() + ", " + me.role());
            }
            return 0;
        }
    }

    @Command(
            name = "password",
            mixinStandardHelpOptions = true,
            description = "Change your password; your other sign-ins end.")
    static final class Password extends Verb {
        @Option(names = "--old-fd", paramLabel = "N", description = "Read the old password from this file descriptor.")
        Optional<Integer> oldFd;

        @Option(names = "--new-fd", paramLabel = "N", description = "Read the new password from this file descriptor.")
        Optional<Integer> newFd;

        @Override
        int run() {
            Secret old = terminal.secret("old password", oldFd);
            Secret fresh = terminal.secret("new password, 12 characters or more", newFd);
            if (newFd.isEmpty() && !fresh.equals(terminal.secret("new password again", Optional.empty()))) {
                terminal.say("the two differ; nothing was changed");
                return 2;
            }
            calls().post("/me/password", new OperatorApi.ChangePassword(old, fresh), null);
            terminal.say("changed");
            return 0;
        }
    }

    @Command(name = "list", mixinStandardHelpOptions = true, description = "All accounts.")
    static final class Ls extends Verb {
        @Override
        int run() {
            List<OperatorApi.Operator> all = calls().list("/operators", OperatorApi.Operator.class, 1_000);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("NAME", "ROLE", "", ""),
                        all.stream().map(OperatorCommands::row).toList(),
                        "no accounts");
            }
            return 0;
        }
    }

    @Command(
            name = "add",
            mixinStandardHelpOptions = true,
            description = "Add an account; its password is changed at first sign-in. Needs a fresh sign-in.")
    static final class Add extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--role", required = true, description = "owner, operator, auditor, staff or vantage")
        String role;

        @Option(
                names = "--password-fd",
                paramLabel = "N",
                description = "Read the first password from this file descriptor.")
        Optional<Integer> passwordFd;

        @Override
        int run() {
            Secret password = terminal.secret("first password for " + name, passwordFd);
            OperatorApi.Operator added = calls().post(
                            "/operators",
                            new OperatorApi.AddOperator(name, role, password),
                            OperatorApi.Operator.class);
            terminal.say(added.name() + " was added as " + added.role());
            return 0;
        }
    }

    @Command(
            name = "code",
            mixinStandardHelpOptions = true,
            description = "Turn on your second factor: a one-time code at every sign-in. Needs a fresh sign-in.")
    static final class Code extends Verb {
        @Override
        int run() {
            OperatorApi.CodeSeed seed = calls().post("/me/code", null, OperatorApi.CodeSeed.class);
            terminal.print("Scan this with your code device, or type the seed "
                    + seed.seed().revealText(RevealSecret.TO_HAND_OUT));
            terminal.print(tender.core.qr.QrCode.of(seed.link().revealText(RevealSecret.TO_HAND_OUT))
                    .blocks());
            Secret code = terminal.secret("the six digits it shows now", Optional.empty());
            calls().post(
                            "/me/code/confirm",
                            new OperatorApi.ConfirmCode(code.revealText(RevealSecret.TO_SIGN_IN)),
                            null);
            terminal.say("the second factor is on");
            return 0;
        }
    }
}
