package tender.service.trial;

import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.office.HandWork;
import tender.core.trial.Claim;
import tender.core.trial.Rung;
import tender.core.trial.Verdict;
import tender.core.wire.MalformedException;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.profile.ByHand;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.profile.Instructions;
import tender.store.profile.Profiles;
import tender.store.trial.Trials;

/**
 * Finds out by trials whether what somebody was to do at a gateway is done: a profile that was to be added gets in; one that was to
 * be closed does not, while another one of the same listener does in the same minute. Each open instruction is tried now and then, the
 * less often the longer it is open, and at once when somebody says that it is done.
 */
final class InstructionCheck implements JobKind {
    private static final Logger LOG = LoggerFactory.getLogger(InstructionCheck.class);
    private static final String NAME = "instruction-check";
    private static final Duration EVERY = Duration.ofMinutes(5);
    private static final int AT_ONCE = 20;
    /** A trial that failed before these never asked the server to let anybody in. */
    private static final Set<Rung> REFUSES = Set.of(Rung.PORT, Rung.HANDSHAKE, Rung.AUTHENTICATION);

    private static final String CONNECTS = Claim.Kind.CONNECTS.name().toLowerCase(Locale.ROOT);

    private final Db db;
    private final Clock clock;
    private final TrialRunner runner;

    InstructionCheck(Db db, Clock clock, TrialRunner runner) {
        this.db = db;
        this.clock = clock;
        this.runner = runner;
    }

    static void ensure(Tx tx) {
        Jobs.keepRunning(tx, NAME, EVERY);
    }

    /** Looks at one instruction now; gives the job. */
    static UUID order(Tx tx, UUID profileId) {
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

    /** What trials show; where they show that it is done, that is noted. */
    private String found(Instructions.Instruction asked) {
        Trials.Trial trial = tried(asked.profileId(), asked.label());
        boolean letIn = isLetIn(trial);
        if (asked.kind() == HandWork.ADMIT_PEER) {
            return letIn ? "it is let in" : "the last trial was not let in yet" + at(trial);
        }
        if (letIn) {
            return "the last trial was still let in";
        }
        if (failed(trial).filter(REFUSES::contains).isEmpty()) {
            return "the last trial did not get as far as the server" + at(trial);
        }
        Optional<Profiles.Profile> other =
                db.inTransaction(tx -> Instructions.letIn(tx, asked.profileId()).flatMap(id -> Profiles.byId(tx, id)));
        if (other.isEmpty()) {
            return "the last trial was not let in; no other profile of " + asked.listener()
                    + " is there to show that the server works";
        }
        if (!isLetIn(tried(other.get().id(), other.get().label()))) {
            return "the last trial was not let in, and " + other.get().label() + " was not either";
        }
        db.run(tx -> Instructions.of(tx, asked.profileId())
                .ifPresent(i -> ByHand.done(
                        tx, i, "trials: refused, while " + other.get().label() + " was let in", clock.instant())));
        return "it is refused";
    }

    /** Whether the server let it in, whatever answers inside. */
    private static boolean isLetIn(Trials.Trial trial) {
        return trial.claims().stream().anyMatch(c -> c.shown() && c.kind().equals(CONNECTS));
    }

    private String at(Trials.Trial trial) {
        return failed(trial).map(r -> ", it failed at: " + r.label()).orElse("");
    }

    private Optional<Rung> failed(Trials.Trial trial) {
        return db.inTransaction(tx -> Trials.rungs(tx, List.of(trial.id()))).stream()
                .filter(r -> r.verdict() == Verdict.FAILS)
                .map(Trials.RungRow::rung)
                .findFirst();
    }

    private Trials.Trial tried(UUID profileId, String label) {
        Trials.Order order = new Trials.Order(
                Ids.next(),
                Optional.of(profileId),
                Optional.empty(),
                Vantages.SERVICE,
                "service",
                label + ", whether an instruction is carried out",
                "",
                Optional.empty());
        db.run(tx -> Trials.insert(tx, order, clock.instant()));
        runner.run(db.inTransaction(tx -> Trials.byId(tx, order.id())).orElseThrow());
        return db.inTransaction(tx -> Trials.byId(tx, order.id())).orElseThrow();
    }
}
