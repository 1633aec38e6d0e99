package tender.service.trial;

import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.wire.MalformedException;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.profile.ByHand;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.profile.Instructions;
import tender.store.trial.Trials;

/**
 * Finds out by trials whether what somebody was to do at a gateway is done: a profile that was to be added gets in; one that was to
 * be closed does not, while another one of the same listener does in the same minute. Each open instruction is tried now and then, the
 * less often the longer it is open, and at once when somebody says that it is done.
 */
public final class InstructionCheck implements JobKind {
    private static final Logger LOG = LoggerFactory.getLogger(InstructionCheck.class);
    private static final String NAME = "instruction-check";
    private static final Duration EVERY = Duration.ofMinutes(5);
    private static final int AT_ONCE = 20;
    private static final String WHY = ", whether an instruction is carried out";

    private final Db db;
    private final Clock clock;
    private final ListenerProof proof;
    private final RefusalProof refusals;

    InstructionCheck(Db db, Clock clock, ListenerProof proof, RefusalProof refusals) {
        this.refusals = refusals;
        this.db = db;
        this.clock = clock;
        this.proof = proof;
    }

    static void ensure(Tx tx) {
        Jobs.keepRunning(tx, NAME, EVERY);
    }

    /** Looks at one instruction now; gives the job. */
    public static UUID order(Tx tx, UUID profileId) {
        return Jobs.add(
                tx,
                Jobs.Order.once(NAME, profileId.toString(), "instruction:" + profileId)
                        .attempts(1));
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public Lane lane() {
        return Lane.TRIAL;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        if (!job.payload().isEmpty()) {
            check(UUID.fromString(job.payload()));
            return;
        }
        List<UUID> open = db.inTransaction(tx -> Instructions.toCheck(tx, clock.instant(), AT_ONCE));
        for (int i = 0; i < open.size(); i++) {
            progress.at(100 * i / open.size(), "instruction " + (i + 1) + " of " + open.size());
            check(open.get(i));
        }
    }

    private void check(UUID profileId) {
        Optional<Instructions.Instruction> asked = db.inTransaction(tx -> Instructions.of(tx, profileId));
        if (asked.isEmpty()) {
            return;
        }
        String found;
        try {
            found = found(asked.get());
        } catch (Refused | MalformedException e) {
            LOG.info("{} cannot be tried: {}", asked.get().label(), e.getMessage());
            found = "it cannot be tried: " + e.getMessage();
        }
        String words = found;
        db.run(tx -> {
            Instructions.checked(tx, profileId, words, clock.instant());
            Events.say(tx, "profile", profileId);
        });
    }

    /** What no trial can show counts as said. */
    private String saidAlone(Instructions.Instruction asked, String why) {
        if (asked.claimed().isEmpty()) {
            return "no trial can show it: " + why + "; say when it is done";
        }
        db.run(tx -> Instructions.of(tx, asked.profileId())
                .ifPresent(i -> ByHand.done(tx, i, "whoever did it; no trial can", clock.instant())));
        return "it counts as said";
    }

    /** What trials show; where they show that it is done, that is noted. */
    private String found(Instructions.Instruction asked) {
        Optional<String> untriable = refusals.untriable(asked.profileId());
        if (untriable.isPresent()) {
            return saidAlone(asked, untriable.get());
        }
        Trials.Trial trial = proof.ofProfile(asked.profileId(), asked.label() + WHY);
        boolean letIn = ListenerProof.isLetIn(trial);
        if (!asked.kind().closes()) {
            return letIn ? "it is let in" : "the last trial was not let in yet" + proof.at(trial);
        }
        RefusalProof.Shown shown = refusals.judged(trial, asked.profileId(), asked.listener(), WHY);
        if (shown.refused()) {
            db.run(tx -> Instructions.of(tx, asked.profileId())
                    .ifPresent(i -> ByHand.done(tx, i, "trials: " + shown.words(), clock.instant())));
        }
        return shown.words();
    }
}
