package tender.client.operator;

import java.util.List;
import tender.client.command.CommandGroup;

/** Accounts, signing in and the master key: the commands. */
public final class OperatorGroup {
    public static final List<CommandGroup> ALL = List.of(
            new CommandGroup(
                    "operator",
                    "Operators: who may sign in to Tender.",
                    List.of(
                            OperatorCommands.Me.class,
                            OperatorCommands.Password.class,
                            OperatorCommands.Ls.class,
                            OperatorCommands.Add.class,
                            OperatorCommands.Code.class,
                            ConfirmCommand.class,
                            OperatorCommands.Tokens.class,
                            OperatorCommands.Disable.class,
                            OperatorCommands.Enable.class,
                            OperatorCommands.SetRole.class,
                            OperatorCommands.ResetPassword.class,
                            OperatorCommands.ResetCode.class,
                            OperatorCommands.EndTokens.class,
                            OperatorCommands.Remove.class)),
            new CommandGroup(
                    "key",
                    "The master key, which encrypts every secret in the database.",
                    List.of(KeyCommands.Rotate.class, KeyCommands.Status.class)));

    /** Commands without a verb. */
    public static final List<CommandGroup> ALONE = List.of(
            new CommandGroup("sign-in", "Sign in to a service.", List.of(SignInCommands.In.class)),
            new CommandGroup("sign-out", "End this client's sign-in.", List.of(SignInCommands.Out.class)));

    private OperatorGroup() {}
}
