package tender.client;

import java.util.List;

/** A thing with its verbs. The table is read instead of annotations, so that a call builds only the commands it needs. */
record Thing(String name, String description, List<Class<? extends Verb>> verbs) {
    static final List<Thing> ALL = List.of(
            new Thing(
                    "operator",
                    "Accounts that sign in to Tender.",
                    List.of(
                            OperatorCommands.Me.class,
                            OperatorCommands.Password.class,
                            OperatorCommands.Ls.class,
                            OperatorCommands.Add.class,
                            OperatorCommands.Code.class,
                            Fresh.Confirm.class,
                            OperatorCommands.Tokens.class,
                            OperatorCommands.Disable.class,
                            OperatorCommands.Enable.class,
                            OperatorCommands.SetRole.class,
                            OperatorCommands.ResetPassword.class,
                            OperatorCommands.ResetCode.class,
                            OperatorCommands.EndTokens.class)),
            new Thing(
                    "site",
                    "Places of the company and their networks.",
                    List.of(SiteCommands.Add.class, SiteCommands.Ls.class, SiteCommands.Set.class)),
            new Thing(
                    "gateway",
                    "Devices that take VPN connections.",
                    List.of(
                            GatewayAddCommand.class,
                            GatewayCommands.Accept.class,
                            GatewayCommands.Ls.class,
                            GatewayCommands.Show.class,
                            GatewayCommands.Read.class,
                            GatewaySetCommand.class,
                            GatewayCommands.Apply.class,
                            GatewayFactsCommand.class,
                            GatewayCommands.Drifted.class,
                            GatewayCommands.Log.class,
                            CertifyCommand.class,
                            DropCommand.class)),
            new Thing(
                    "change",
                    "Changes of devices' settings, with their impact and a way back.",
                    List.of(
                            ChangeMakeCommand.class,
                            ChangeSetCommands.Together.class,
                            ChangeCommands.Ls.class,
                            ChangeCommands.Keep.class,
                            ChangeCommands.GiveBack.class)),
            new Thing("route", "The way from a device to a host inside.", List.of(RouteCommands.Walk.class)),
            new Thing(
                    "explain",
                    "Plain words about settings, doors, networks and tunnel types.",
                    List.of(
                            ExplainCommands.Settings.class,
                            ExplainCommands.Doors.class,
                            ExplainCommands.Network.class,
                            ExplainCommands.Choose.class)),
            new Thing(
                    "description",
                    "Kinds of box, by which gateways are read and changed.",
                    List.of(
                            DescriptionCommands.Ls.class,
                            DescriptionCommands.Show.class,
                            DescriptionCommands.Put.class,
                            DescriptionCommands.Approve.class)),
            new Thing(
                    "person",
                    "Staff.",
                    List.of(
                            PersonCommands.Add.class,
                            PersonCommands.Ls.class,
                            PersonCommands.Show.class,
                            PersonCommands.Bring.class)),
            new Thing("device", "What people connect with.", List.of(DeviceCommands.Add.class)),
            new Thing(
                    "profile",
                    "What a device needs to connect.",
                    List.of(
                            ProfileIssueCommand.class,
                            IssueManyCommand.class,
                            ProfileCommands.Ls.class,
                            ProfileCommands.Show.class,
                            ProfileCommands.Settings.class,
                            ProfileCommands.Instruction.class,
                            ProfileCommands.Renew.class,
                            ProfileCommands.Withdraw.class,
                            InspectCommand.class,
                            AdoptCommand.class)),
            new Thing(
                    "variant",
                    "What teams get at listeners where it differs from everyone else.",
                    List.of(VariantCommands.Put.class, VariantCommands.Ls.class, VariantCommands.Drop.class)),
            new Thing(
                    "authority",
                    "Certificate authorities, what they sign and what they revoke.",
                    List.of(
                            AuthorityCommands.Make.class,
                            AuthorityCommands.TakeIn.class,
                            AuthorityCommands.Ls.class,
                            AuthoritySignCommand.class,
                            AuthorityCommands.Certificates.class,
                            AuthorityCommands.Revoke.class,
                            AuthorityCommands.Revocations.class)),
            new Thing(
                    "handout",
                    "Giving people their files.",
                    List.of(
                            HandoutCommands.Prepare.class,
                            HandoutCommands.Sent.class,
                            HandoutCommands.Ls.class,
                            HandoutCommands.Withdraw.class,
                            HandoutCommands.Collect.class)),
            new Thing(
                    "trial",
                    "Connecting with the very file, and saying what is wrong.",
                    List.of(
                            TrialRunCommand.class,
                            TrialExplainCommand.class,
                            TrialCommands.Ls.class,
                            TrialCommands.Show.class)),
            new Thing(
                    "session",
                    "Connections seen working.",
                    List.of(SessionCommands.Ls.class, SessionCommands.Watch.class)),
            new Thing(
                    "backup",
                    "Snapshots of gateways.",
                    List.of(BackupCommands.Take.class, BackupCommands.Ls.class, BackupCommands.Download.class)),
            new Thing(
                    "finding",
                    "What is wrong or about to be.",
                    List.of(
                            FindingCommands.Ls.class,
                            FindingCommands.Mend.class,
                            FindingCommands.Accept.class,
                            FindingCommands.Reopen.class)),
            new Thing(
                    "round",
                    "Listeners that are tried on a schedule, and how they fare.",
                    List.of(
                            RoundCommands.Put.class,
                            RoundCommands.Ls.class,
                            RoundCommands.History.class,
                            RoundCommands.Drop.class)),
            new Thing(
                    "vantage",
                    "Places that trials are made from.",
                    List.of(VantageCommands.Ls.class, VantageCommands.Stand.class)),
            new Thing(
                    "key",
                    "The master key that encrypts every secret in the database.",
                    List.of(KeyCommands.Rotate.class, KeyCommands.Status.class)),
            new Thing("job", "Time-taking work.", List.of(JobCommands.Ls.class, JobCommands.Cancel.class)),
            new Thing(
                    "journal",
                    "Who did what; nothing is ever changed in it.",
                    List.of(JournalCommands.Ls.class, JournalCommands.Verify.class)));

    /** Commands without a thing. */
    static final List<Thing> ALONE = List.of(
            new Thing("sign-in", "Sign in to a service.", List.of(SignInCommands.In.class)),
            new Thing("sign-out", "End this client's sign-in.", List.of(SignInCommands.Out.class)),
            new Thing(
                    "overview", "The line of work: how much there is, and what waits.", List.of(OverviewCommand.class)),
            new Thing("completion", "Print shell completion.", List.of(Main.Completion.class)));
}
