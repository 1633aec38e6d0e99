package tender.service.reconcile;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.backup.Snapshot;
import tender.core.credential.Secret;
import tender.core.office.Change;
import tender.core.office.Restart;
import tender.core.wire.MalformedException;
import tender.io.gateway.Applied;
import tender.io.gateway.Capability;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.GatewayPlan;
import tender.io.gateway.ManagementConnection;
import tender.service.backup.BackupKeeping;
import tender.service.certificate.RevocationListWrites;
import tender.service.device.Connections;
import tender.service.gateway.GatewayJobs;
import tender.service.gateway.GatewayReading;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.job.Steps;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.office.Gateways;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.DesiredResources.Due;
import tender.store.reconcile.DesiredResources.Kind;

/**
 * Brings a gateway to what the records want there: one run writes all that is due at once. Nothing else writes to gateways.
 *
 * <p>The order keeps records and device together whatever is killed when. What is wanted is in the database before the device
 * is touched, and is noted as active only after the device shows it. In between a run can stop anywhere: the next one reads
 * the device, writes what is not there yet, and notes it. Only the holder of the gateway's lease writes, and its fence goes
 * along to the device.
 */
public final class GatewayReconciler implements JobKind, AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(GatewayReconciler.class);

    private final Db db;
    private final Clock clock;
    private final String node;
    private final String installation;
    private final Gateways gateways;
    private final Credentials credentials;
    private final Connections connections;
    private final BackupKeeping backups;
    private final GatewayReading reading;
    private final RevocationListWrites lists;
    private final Settling settling;
    private final DesiredState desired;
    private final ScheduledExecutorService renewals = Executors.newSingleThreadScheduledExecutor(task -> {
        Thread thread = new Thread(task, "writer-leases");
        thread.setDaemon(true);
        return thread;
    });

    GatewayReconciler(
            Db db,
            Clock clock,
            String node,
            String installation,
            Gateways gateways,
            Credentials credentials,
            Connections connections,
            BackupKeeping backups,
            GatewayReading reading,
            RevocationListWrites lists) {
        this.db = db;
        this.clock = clock;
        this.node = node;
        this.installation = installation;
        this.gateways = gateways;
        this.credentials = credentials;
        this.connections = connections;
        this.backups = backups;
        this.reading = reading;
        this.lists = lists;
        this.settling = new Settling(db, clock, credentials);
        this.desired = new DesiredState(db, clock, reading);
    }

    @Override
    public String name() {
        return GatewayJobs.RECONCILE;
    }

    @Override
    public Lane lane() {
        return Lane.INTERACTIVE;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        reconcile(UUID.fromString(job.payload()), progress);
    }

    @Override
    public void gaveUp(Jobs.Job job, String why) {
        settling.gaveUp(UUID.fromString(job.payload()), why);
    }

    /** An open connection to a gateway whose lease is held. */
    private record Writing(
            UUID gatewayId, GatewayWriteLease lease, ManagementConnection connection, String installation) {
        ManagementConnection.Hold hold() {
            lease.check();
            return new ManagementConnection.Hold(installation, lease.fence());
        }
    }

    private interface Work<T> {
        T with(Writing writing);
    }

    /** The one place where a gateway's lease is taken, and a connection opened that writes. */
    private <T> T writing(UUID gatewayId, Work<T> work) {
        try (GatewayWriteLease lease = GatewayWriteLease.take(db, node, gatewayId, renewals);
                ManagementConnection connection = connections.open(gatewayId)) {
            return work.with(new Writing(gatewayId, lease, connection, installation));
        }
    }

    /**
     * Does all that is due now; where nothing is due, nothing is asked of the gateway. For a job of the gateway alone: nobody
     * else may be writing it.
     *
     * @throws GatewayFailure where the gateway cannot be reached, or something due could not be written; the rest is
     * @throws tender.service.job.NotNow while another node holds the gateway
     */
    public void reconcile(UUID gatewayId, Steps progress) {
        if (db.inTransaction(tx -> DesiredResources.due(tx, gatewayId)).isEmpty()) {
            return;
        }
        Optional<RuntimeException> failure;
        try {
            failure = writing(gatewayId, w -> {
                ArmedRollback.callOff(db, w.connection(), gatewayId);
                return due(w, progress);
            });
        } catch (GatewayFailure e) {
            db.run(tx -> DesiredResources.problem(tx, gatewayId, List.of(Kind.values()), e.getMessage(), false));
            failure = Optional.of(e);
        }
        Optional<String> problem =
                failure.filter(GatewayFailure.class::isInstance).map(Throwable::getMessage);
        db.run(tx -> {
            gateways.problem(tx, gatewayId, problem);
            problem.ifPresent(text -> Events.say(tx, "gateway", gatewayId));
        });
        failure.ifPresent(e -> {
            throw e;
        });
    }

    /** Gives why something due could not be written, if so; that is noted, and all else is written. */
    private Optional<RuntimeException> due(Writing w, Steps progress) {
        UUID gatewayId = w.gatewayId();
        List<Due> due = db.inTransaction(tx -> DesiredResources.due(tx, gatewayId));
        Map<UUID, Secret> secrets = db.inTransaction(tx -> credentials.secrets(
                tx, due.stream().flatMap(r -> r.secretId().stream()).toList()));
        Gateways.Gateway gateway =
                db.inTransaction(tx -> gateways.byId(tx, gatewayId)).orElseThrow();
        progress.at(10, "backup before " + due.size() + " changes");
        Snapshot read = w.connection().readAll();
        Map<Kind, RuntimeException> failures = new EnumMap<>(Kind.class);
        Optional<RevocationListWrites.Writes> writes = Optional.empty();
        List<Due> listRows =
                due.stream().filter(r -> r.kind() == Kind.REVOCATION_LISTS).toList();
        if (!listRows.isEmpty()) {
            try {
                writes = Optional.of(lists.of(w.connection(), gateway, read));
            } catch (GatewayFailure | MalformedException e) {
                failures.put(Kind.REVOCATION_LISTS, e); // the rest is written all the same
            }
        }
        DuePlan plan = DuePlan.of(due, secrets, writes);
        if (!plan.writesNothing()) {
            boolean listsAlone = plan.peers().isEmpty() && plan.accounts().isEmpty();
            backups.keep(
                    BackupKeeping.Taken.of(gateway, w.connection().device(read, clock.instant()), read),
                    listsAlone ? "before a revocation list" : "before a change",
                    By.tender(clock.instant()));
        }
        progress.at(30, "writing " + due.size() + " changes at once");
        Applied applied = w.connection().apply(plan.plan(), w.hold());
        progress.at(90, due.size() + " changes written, noting them");
        applied.failures().forEach((part, e) -> failures.putIfAbsent(kind(part), e));
        settle(gateway, plan, listRows, applied, failures);
        return failures.values().stream().findFirst();
    }

    private static Kind kind(GatewayPlan.Part part) {
        return switch (part) {
            case PEERS -> Kind.PEER;
            case ACCOUNTS -> Kind.ACCOUNT;
            case LISTS, SETTINGS -> Kind.REVOCATION_LISTS; // as settings, where the gateway takes no files
        };
    }

    private void settle(
            Gateways.Gateway gateway,
            DuePlan plan,
            List<Due> listRows,
            Applied applied,
            Map<Kind, RuntimeException> failures) {
        UUID gatewayId = gateway.id();
        applied.peers().forEach(p -> settling.peers(gatewayId, plan.peers().get(p.listener()), p));
        failures.forEach((kind, e) -> db.run(tx -> DesiredResources.problem(
                tx, gatewayId, List.of(kind), e.getMessage(), kind != Kind.PEER && !isAway(e))));
        if (!plan.accounts().isEmpty() && !failures.containsKey(Kind.ACCOUNT)) {
            settling.accounts(gatewayId, plan.accounts());
        }
        if (!listRows.isEmpty() && !failures.containsKey(Kind.REVOCATION_LISTS)) {
            Instant now = clock.instant();
            db.run(tx -> {
                plan.lists().forEach(n -> RevocationListWrites.delivered(tx, gateway, n, now));
                DesiredResources.active(tx, gatewayId, listRows);
            });
        }
    }

    private static boolean isAway(RuntimeException e) {
        return e instanceof GatewayFailure f && f.kind() == GatewayFailure.Kind.UNREACHABLE;
    }

    /** Compares the gateway with the records and writes what differs, whatever was written there before. */
    public void sync(UUID gatewayId, Steps progress) {
        progress.at(5, "comparing the gateway with the records");
        try (ManagementConnection connection = connections.open(gatewayId)) {
            desired.compute(gatewayId, connection);
        }
        reconcile(gatewayId, progress);
    }

    /**
     * What a gateway was like just before settings were written there.
     *
     * @param armed whether the device brings it back by itself unless told otherwise
     * @param restart what had to start anew
     */
    public record Before(GatewayReading.Read read, boolean armed, Restart restart) {}

    /** Hears what there was before anything is written, so that it can be brought back whatever happens next. */
    @FunctionalInterface
    public interface BeforeWriting {
        void note(Before before);
    }

    /**
     * Writes changes of settings and starts anew what has to.
     *
     * @param rollbackAfter when the device itself is to bring back what was there, where it can
     * @throws GatewayFailure also after {@code noted} was told; then something may be written
     */
    public Before settings(
            UUID gatewayId,
            List<Change> changes,
            Optional<Duration> rollbackAfter,
            BeforeWriting noted,
            Steps progress) {
        return writing(gatewayId, w -> {
            ArmedRollback.callOff(db, w.connection(), gatewayId);
            progress.at(25, "keeping what is there");
            GatewayReading.Read read = reading.read(w.connection(), gatewayId, "before a change", "tender", false);
            Restart restart =
                    changes.stream().map(x -> x.restart(read.device())).reduce(Restart.NONE, Restart::or);
            boolean armed =
                    rollbackAfter.isPresent() && w.connection().capabilities().contains(Capability.ROLLBACK);
            ManagementConnection.Hold hold = w.hold();
            if (armed) {
                w.connection().arm(rollbackAfter.get());
            }
            Before before = new Before(read, armed, restart);
            noted.note(before);
            progress.at(40, "writing");
            w.connection()
                    .apply(
                            GatewayPlan.of(new GatewayPlan.Settings(
                                    read.snapshot(), read.device(), changes, reload(changes, restart))),
                            hold)
                    .orThrow(GatewayPlan.Part.SETTINGS);
            progress.at(55, restart.words());
            return before;
        });
    }

    private static GatewayPlan.Reload reload(List<Change> changes, Restart restart) {
        boolean asked = changes.stream().anyMatch(Change::reloads);
        if (restart == Restart.NONE && !asked) {
            return GatewayPlan.Reload.NONE;
        }
        return changes.stream()
                .filter(c -> restart == Restart.LISTENER)
                .flatMap(c -> c.changedListener().stream())
                .map(GatewayPlan.Reload::of)
                .findFirst()
                .orElse(GatewayPlan.Reload.EVERYTHING);
    }

    /**
     * Brings back what was there before a change, and nothing else. Then the records say who is let in, so that nobody who was
     * withdrawn meanwhile comes back with it.
     *
     * @param after what was there right after the change; what is there now where nobody knows
     * @param armed whether the device would do it by itself, and is told not to
     * @param reason why the gateway is read again afterwards
     */
    public void restore(UUID gatewayId, Snapshot before, Optional<Snapshot> after, boolean armed, String reason) {
        writing(gatewayId, w -> {
            w.connection().undo(before, after, w.hold());
            desired.compute(gatewayId, w.connection());
            due(w, Steps.UNHEARD).ifPresent(e -> {
                throw e;
            });
            reload(w.connection());
            if (armed) {
                w.connection().disarm();
            }
            return reading.read(w.connection(), gatewayId, reason, "tender", true);
        });
    }

    /** A device that refuses to reload its files keeps what was active, and that is what was just written back. */
    private static void reload(ManagementConnection connection) {
        try {
            connection.reload();
        } catch (GatewayFailure e) {
            if (e.kind() != GatewayFailure.Kind.COMMAND_FAILED) {
                throw e;
            }
            LOG.warn("a device refuses to reload what was there before: {}", e.getMessage());
        }
    }

    /** Tells a device that was to bring back by itself what was there that what is active stays. */
    public void disarm(UUID gatewayId) {
        writing(gatewayId, w -> {
            w.connection().disarm();
            return null;
        });
    }

    @Override
    public void close() {
        renewals.shutdownNow();
    }
}
