package tender.service.monitor;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.Optional;
import java.util.UUID;
import tender.core.wire.MalformedException;
import tender.io.gateway.GatewayFailure;
import tender.service.alert.Alerts;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.refusal.Refused;
import tender.service.trial.CanaryTrials;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.monitor.ScheduledTrials;

/**
 * Tries a listener with its canary, again and again. A try that fails is made once more, with a fresh file, before it counts:
 * one lost packet is no news. A verdict that changed is told.
 */
final class MonitorJob implements JobKind {
    static final String NAME = "monitor";
    private static final Duration KEPT = Duration.ofDays(90);
    private static final int TRIES = 3; // somebody else may be writing the gateway just then
    private static final Duration TOLERANCE = Duration.ofSeconds(2);

    private final Db db;
    private final Clock clock;
    private final CanaryTrials trials;
    private final Alerts alerts;

    MonitorJob(Db db, Clock clock, CanaryTrials trials, Alerts alerts) {
        this.db = db;
        this.clock = clock;
        this.trials = trials;
        this.alerts = alerts;
    }

    static Jobs.Order order(UUID listenerId, Duration every) {
        return new Jobs.Order(
                NAME,
                listenerId.toString(),
                Optional.of("monitor:" + listenerId),
                Optional.empty(),
                Optional.of(every),
                TRIES);
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
        UUID listenerId = UUID.fromString(job.payload());
        Optional<ScheduledTrials.ScheduledTrial> monitor = db.inTransaction(tx -> ScheduledTrials.of(tx, listenerId))
                .filter(r -> r.every().isPresent());
        boolean early = monitor.flatMap(ScheduledTrials.ScheduledTrial::nextAt)
                .filter(next -> next.isAfter(clock.instant().plus(TOLERANCE)))
                .isPresent();
        if (monitor.isEmpty() || early) {
            return; // taken off the schedule meanwhile, or set anew while it ran
        }
        try {
            CanaryTrials.Outcome tried = trials.scheduled(listenerId);
            db.run(tx -> keep(tx, monitor.get(), tried));
        } catch (GatewayFailure | MalformedException | Refused e) {
            // it says nothing of the listener, so what was known of it stays where there was something
            if (monitor.get().proven().isEmpty()) {
                db.run(tx -> {
                    ScheduledTrials.cannot(
                            tx,
                            listenerId,
                            e.getMessage(),
                            clock.instant().plus(monitor.get().every().orElseThrow()));
                    Events.say(tx, "monitor", listenerId);
                });
            }
            throw e;
        }
    }

    private void keep(Tx tx, ScheduledTrials.ScheduledTrial before, CanaryTrials.Outcome t) {
        Instant now = clock.instant();
        ScheduledTrials.ran(
                tx,
                new ScheduledTrials.Result(
                        before.listenerId(), now, t.proven(), t.echoMillis(), (int) t.millis(), t.rung()),
                t.cause(),
                Optional.of(t.trialId()),
                now.plus(before.every().orElseThrow()),
                now.minus(KEPT));
        Events.say(tx, "monitor", before.listenerId());
        boolean changed = before.proven().isPresent() ? before.proven().get() != t.proven() : !t.proven();
        if (!changed) {
            return;
        }
        String place = before.gateway() + " " + before.listener();
        Journal.append(
                tx,
                By.tender(now),
                t.proven() ? "listener-works" : "listener-fails",
                "listener",
                before.listenerId(),
                place
                        + t.rung().map(r -> ": " + r).orElse("")
                        + t.cause().map(c -> ", " + c).orElse(""));
        if (!isQuiet(before, now)) {
            alerts.say(tx, word(before, t, place, now), now);
        }
    }

    private static Alerts.Word word(
            ScheduledTrials.ScheduledTrial r, CanaryTrials.Outcome t, String place, Instant now) {
        String subject = t.proven() ? place + " works again" : place + " does not work";
        String text = subject + ".\n"
                + t.rung().map(rung -> "It fails at: " + rung + ".\n").orElse("")
                + t.cause().map(c -> "Cause: " + c + ".\n").orElse("")
                + t.remedy().map(c -> "Do: " + c + ".\n").orElse("");
        return new Alerts.Word(
                t.proven() ? "listener-works" : "listener-fails", r.gateway(), r.listener(), now, subject, text);
    }

    /** Between the two times of the day; over midnight where the first is the later. */
    static boolean isQuiet(ScheduledTrials.ScheduledTrial r, Instant now) {
        if (r.quietFrom().isEmpty() || r.quietTo().isEmpty()) {
            return false;
        }
        LocalTime at = now.atOffset(ZoneOffset.UTC).toLocalTime();
        LocalTime from = LocalTime.parse(r.quietFrom().get());
        LocalTime to = LocalTime.parse(r.quietTo().get());
        boolean after = !at.isBefore(from);
        boolean before = at.isBefore(to);
        return from.isBefore(to) ? after && before : after || before;
    }
}
