package tender.client.profile;

import java.time.Instant;
import java.util.Optional;
import tender.api.ProfileApi;
import tender.api.WatchApi;
import tender.client.command.Calls;
import tender.client.command.Terminal;

/** Profiles for every device of a team, or of everyone, that has none there yet; one write at the gateway. */
record ManyProfiles(
        String gateway,
        Optional<String> listener,
        Optional<String> team,
        Optional<Instant> until,
        boolean makeAccounts,
        boolean dryRun,
        boolean yes) {
    int run(Terminal terminal, Calls calls) {
        ProfileApi.IssuedMany planned = order(calls, true);
        if (dryRun || planned.issued().isEmpty()) {
            show(terminal, planned);
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
        show(terminal, done);
        return state.equals("done") ? 0 : 1;
    }

    private ProfileApi.IssuedMany order(Calls calls, boolean dry) {
        return calls.post(
                "/profiles/many",
                new ProfileApi.IssueMany(gateway, listener, team, until, Optional.of(makeAccounts), Optional.of(dry)),
                ProfileApi.IssuedMany.class);
    }

    private static void show(Terminal terminal, ProfileApi.IssuedMany many) {
        if (terminal.json) {
            terminal.json(many);
            return;
        }
        many.issued().forEach(terminal::print);
        terminal.say(many.issued().size() + " issued, " + many.present().size() + " had one already");
    }
}
