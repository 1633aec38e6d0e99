package tender.client;

import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tender.api.ProfileApi;
import tender.api.WatchApi;

/** Issues to many devices with one write at the gateway. */
@Command(
        name = "issue-many",
        mixinStandardHelpOptions = true,
        description =
                "Issue to every device of a team, or of everyone, that has no profile there yet; one write at the gateway.",
        footer = {
            "",
            "  tender profile issue-many --gateway pier2 --team masters --dry-run",
            "  tender profile issue-many --gateway pier2 --until 2027-06-30T00:00:00Z --yes"
        })
final class IssueManyCommand extends Verb {
    @Option(names = "--gateway", required = true)
    String gateway;

    @Option(names = "--listener", description = "Needed where the gateway has several.")
    Optional<String> listener;

    @Option(names = "--team", description = "Only this team's devices. Default: everyone's")
    Optional<String> team;

    @Option(names = "--until", paramLabel = "TIME", description = "When the credentials end. Default: no end")
    Optional<String> until;

    @Option(
            names = "--make-accounts",
            description = "Where the listener asks for accounts: let Tender make one for each device.")
    boolean makeAccounts;

    @Option(names = "--dry-run", description = "Say who would get one; write nothing.")
    boolean dryRun;

    @Option(names = "--yes", description = "Do not ask.")
    boolean yes;

    @Override
    int run() {
        Calls calls = calls();
        ProfileApi.IssuedMany planned = order(calls, true);
        if (dryRun || planned.issued().isEmpty()) {
            show(planned);
            terminal.say("nothing was written");
            return 0;
        }
        if (!terminal.confirmed(
                "Issue " + planned.issued().size() + " profiles at " + gateway + "? "
                        + planned.present().size() + " devices have one already.",
                yes)) {
            return 1;
        }
        ProfileApi.IssuedMany done = order(calls, false);
        String state = "done";
        if (done.jobId().isPresent()) {
            terminal.say("writing " + gateway + ": backup, lock, one write, reload, read again");
            WatchApi.Job job = calls.await(done.jobId().get(), note -> terminal.say("  " + note));
            state = job.state();
        }
        show(done);
        return state.equals("done") ? 0 : 1;
    }

    private ProfileApi.IssuedMany order(Calls calls, boolean dry) {
        return calls.post(
                "/profiles/many",
                new ProfileApi.IssueMany(
                        gateway,
                        listener,
                        team,
                        until.map(ChangeMakeCommand::time),
                        Optional.of(makeAccounts),
                        Optional.of(dry)),
                ProfileApi.IssuedMany.class);
    }

    private void show(ProfileApi.IssuedMany many) {
        if (terminal.json) {
            terminal.json(many);
            return;
        }
        many.issued().forEach(terminal::print);
        terminal.say(many.issued().size() + " issued, " + many.present().size() + " had one already");
    }
}
