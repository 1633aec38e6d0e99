package tender.client.operator;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OperatorApi;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.RemoveCommand;
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
                o.disabled() ? "disabled" : o.mustChangePassword() ? "first password not changed" : "");
    }

    @Command(name = "me", mixinStandardHelpOptions = true, description = "Show who is signed in.")
    static final class Me extends ClientCommand {
        @Override
        protected int run() {
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
    static final class Password extends ClientCommand {
        @Option(names = "--old-fd", paramLabel = "N", description = "Read the old password from this file descriptor.")
        Optional<Integer> oldFd;

        @Option(names = "--new-fd", paramLabel = "N", description = "Read the new password from this file descriptor.")
        Optional<Integer> newFd;

        @Override
        protected int run() {
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

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List operators.")
    static final class Ls extends ClientCommand {
        @Override
        protected int run() {
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
            description =
                    "Add an operator; the password must be changed at the first sign-in. Needs a confirmed password.")
    static final class Add extends ClientCommand {
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
        protected int run() {
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
            description = "Turn on your second factor: a one-time code at every sign-in. Needs a confirmed password.")
    static final class Code extends ClientCommand {
        @Override
        protected int run() {
            OperatorApi.CodeSeed seed = calls().post("/me/code", null, OperatorApi.CodeSeed.class);
            terminal.print("Scan this with your authenticator app, or enter the secret "
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

    /** Something an owner does to an account. */
    abstract static class OnAccount extends ClientCommand {
        @Parameters(paramLabel = "NAME", description = "The account.")
        String name;

        OperatorApi.Operator post(String verb, Object body) {
            return calls().post("/operators/" + name + "/" + verb, body, OperatorApi.Operator.class);
        }
    }

    @Command(
            name = "disable",
            mixinStandardHelpOptions = true,
            description = "Disable an operator; sign-ins and tokens end. The last owner cannot be disabled.")
    static final class Disable extends OnAccount {
        @Override
        protected int run() {
            terminal.say(post("disable", null).name() + " can sign in no more");
            return 0;
        }
    }

    @Command(name = "enable", mixinStandardHelpOptions = true, description = "Enable a disabled operator.")
    static final class Enable extends OnAccount {
        @Override
        protected int run() {
            terminal.say(post("enable", null).name() + " can sign in");
            return 0;
        }
    }

    @Command(
            name = "role",
            mixinStandardHelpOptions = true,
            description = "Change an operator's role; sign-ins and tokens end.",
            footer = {"", "  tender operator role mara auditor"})
    static final class SetRole extends OnAccount {
        @Parameters(index = "1", paramLabel = "ROLE", description = "owner, operator, auditor, staff or vantage")
        String role;

        @Override
        protected int run() {
            OperatorApi.Operator o = post("role", new OperatorApi.SetRole(role));
            terminal.say(o.name() + " is " + o.role());
            return 0;
        }
    }

    @Command(
            name = "reset-password",
            mixinStandardHelpOptions = true,
            description =
                    "Reset an operator's password; it must be changed at the next sign-in. Sign-ins and tokens end.")
    static final class ResetPassword extends OnAccount {
        @Option(names = "--password-fd", paramLabel = "N", description = "Read the password from this file descriptor.")
        Optional<Integer> passwordFd;

        @Override
        protected int run() {
            Secret password = terminal.secret("first password for " + name, passwordFd);
            terminal.say(
                    post("password", new OperatorApi.ResetPassword(password)).name() + " has a first password");
            return 0;
        }
    }

    @Command(
            name = "reset-code",
            mixinStandardHelpOptions = true,
            description =
                    "Remove an operator's second factor, for example after a lost phone; sign-ins and tokens end.")
    static final class ResetCode extends OnAccount {
        @Override
        protected int run() {
            terminal.say(post("reset-code", null).name() + " has no second factor");
            return 0;
        }
    }

    @Command(
            name = "tokens",
            mixinStandardHelpOptions = true,
            description = "List sign-ins and tokens: yours, or an operator's.")
    static final class Tokens extends ClientCommand {
        @Parameters(arity = "0..1", paramLabel = "NAME", description = "An account; owners only. Default: yours")
        Optional<String> name;

        @Override
        protected int run() {
            String path = name.map(n -> "/operators/" + n + "/tokens").orElse("/me/tokens");
            List<OperatorApi.Token> all = calls().list(path, OperatorApi.Token.class, 1_000);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("LABEL", "KIND", "SCOPE", "SINCE", "ENDS", ""),
                        all.stream()
                                .map(t -> List.of(
                                        t.label(),
                                        t.kind(),
                                        t.scope(),
                                        t.createdAt().toString(),
                                        t.expiresAt().toString(),
                                        t.thisOne() ? "this one" : ""))
                                .toList(),
                        "nobody is signed in");
            }
            return 0;
        }
    }

    @Command(
            name = "end-tokens",
            mixinStandardHelpOptions = true,
            description = "End all sign-ins and tokens of an operator.")
    static final class EndTokens extends OnAccount {
        @Override
        protected int run() {
            terminal.say(
                    "all sign-ins and tokens of " + post("end-tokens", null).name() + " ended");
            return 0;
        }
    }

    @Command(
            name = "remove",
            mixinStandardHelpOptions = true,
            description = "Remove an operator; sign-ins and tokens end. The journal keeps what they did.",
            footer = {"", "  tender operator remove edda --dry-run"})
    static final class Remove extends RemoveCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        protected String path(Calls calls) {
            return "/operators/" + name;
        }
    }
}
