package tender.client.watch;

import java.util.List;
import tender.client.command.CommandGroup;

/** What is seen and kept: sessions, backups, jobs, the journal: the commands. */
public final class WatchGroup {
    public static final List<CommandGroup> ALL = List.of(
            new CommandGroup(
                    "session",
                    "Sessions: connections seen working.",
                    List.of(SessionCommands.Ls.class, SessionCommands.Watch.class)),
            new CommandGroup(
                    "backup",
                    "Backups of gateways.",
                    List.of(
                            BackupCommands.Take.class,
                            BackupCommands.Ls.class,
                            BackupCommands.Show.class,
                            BackupCommands.Download.class)),
            new CommandGroup(
                    "job",
                    "Jobs: work in the background.",
                    List.of(JobCommands.Ls.class, JobCommands.Show.class, JobCommands.Cancel.class)),
            new CommandGroup(
                    "journal",
                    "The journal: who did what; append-only.",
                    List.of(JournalCommands.Ls.class, JournalCommands.Verify.class)));

    /** Commands without a verb. */
    public static final List<CommandGroup> ALONE = List.of(
            new CommandGroup("overview", "Overview: what there is and what waits.", List.of(OverviewCommand.class)));

    private WatchGroup() {}
}
