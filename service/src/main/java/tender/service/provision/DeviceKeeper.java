package tender.service.provision;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.provision.SealingKey;
import tender.core.wire.MalformedException;
import tender.io.provision.DeliveredProfile;
import tender.service.handout.DeviceContent;
import tender.service.profile.KeptProfiles;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.StoreException;
import tender.store.jdbc.Tx;
import tender.store.job.Duties;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.provision.Deliveries;
import tender.store.provision.Enrolments;

/**
 * Keeps what waits for devices equal to what there is for them. One node at a time has the duty. It completes devices that join, makes
 * new revisions where a listener changed and the newest file does not fit it any more, seals what is newer, and takes back what is
 * withdrawn. It compares instead of believing what it heard, so that nothing is lost with a node.
 */
final class DeviceKeeper implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(DeviceKeeper.class);
    private static final String DUTY = "devices";
    private static final Duration LEASE = Duration.ofSeconds(15);
    private static final Duration RENEW = Duration.ofSeconds(5);
    private static final Duration SETTLE = Duration.ofMillis(200);
    private static final Duration EVERYTHING_EACH = Duration.ofMinutes(10);
    private static final Duration HELD_BACK = Duration.ofSeconds(30);
    private static final int AT_ONCE = 200;

    private final Db db;
    private final Clock clock;
    private final String node;
    private final Joining joining;
    private final KeptProfiles profiles;
    private final DeviceContent content;
    private final Thread thread = new Thread(this::run, "devices");
    private final Set<UUID> changed = new HashSet<>();
    /** Revisions that are not fit to be handed out, and until when they are not judged again. */
    private final Map<String, Instant> held = new HashMap<>();

    private boolean news;
    private boolean mine;
    private long holdAgainAt;
    private volatile boolean closed;

    DeviceKeeper(Db db, Clock clock, String node, Joining joining, KeptProfiles profiles, DeviceContent content) {
        this.db = db;
        this.clock = clock;
        this.node = node;
        this.joining = joining;
        this.profiles = profiles;
        this.content = content;
        thread.setDaemon(true);
    }

    void start() {
        thread.start();
    }

    /** Hears all news of all nodes, on the listening thread. */
    void heard(String topic, String id) {
        boolean gateway = topic.equals("gateway");
        if (gateway || topic.equals("profile") || topic.equals("enrolment")) {
            synchronized (changed) {
                if (gateway && !id.isEmpty()) {
                    changed.add(UUID.fromString(id));
                }
                news = true;
                changed.notifyAll();
            }
        }
    }

    private void run() {
        long everythingAt = System.nanoTime();
        while (!closed) {
            try {
                boolean before = mine;
                hold();
                Set<UUID> gateways = gather();
                if (mine && (!before || System.nanoTime() >= everythingAt)) {
                    gateways = Set.copyOf(db.inTransaction(Enrolments::gateways));
                    everythingAt = System.nanoTime() + EVERYTHING_EACH.toNanos();
                }
                if (mine) {
                    work(gateways);
                }
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            } catch (StoreException e) {
                LOG.warn("devices cannot be kept current now: {}", e.getMessage());
                startAnew();
            } catch (RuntimeException e) {
                LOG.error("devices cannot be kept current: {}", e.toString(), e);
                startAnew();
            }
        }
    }

    /** Everything is looked at again, in a moment. */
    private void startAnew() {
        mine = false;
        synchronized (changed) {
            try {
                if (!closed) {
                    changed.wait(RENEW.toMillis());
                }
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                closed = true;
            }
        }
    }

    private void hold() {
        mine = db.inTransaction(tx -> Duties.hold(tx, DUTY, node, LEASE));
        holdAgainAt = System.nanoTime() + RENEW.toNanos();
    }

    /** Whether work that takes long goes on: the duty is held anew meanwhile, and ends where another node has it. */
    private boolean goesOn() {
        if (System.nanoTime() >= holdAgainAt) {
            hold();
        }
        return mine && !closed;
    }

    /** Waits for news, and a moment longer for what comes with it. */
    private Set<UUID> gather() throws InterruptedException {
        synchronized (changed) {
            if (!news && !closed) {
                changed.wait(RENEW.toMillis());
            }
            if (news && !closed) {
                changed.wait(SETTLE.toMillis());
            }
            Set<UUID> out = Set.copyOf(changed);
            changed.clear();
            news = false;
            return out;
        }
    }

    private void work(Set<UUID> gateways) {
        Instant now = clock.instant();
        db.inTransaction(tx -> Enrolments.joining(tx, AT_ONCE)).forEach(j -> joining.complete(j, By.tender(now)));
        db.run(tx -> Enrolments.takeLeft(tx)
                .forEach(l ->
                        Journal.append(tx, By.tender(now), "device-left", "person", l.personId(), l.deviceName())));
        db.run(tx -> tell(tx, Enrolments.endArchived(tx)));
        db.run(tx -> tell(tx, Deliveries.takeBack(tx)));
        for (UUID gateway : gateways) {
            List<UUID> kept = db.inTransaction(tx -> Enrolments.keptAt(tx, gateway));
            if (!kept.isEmpty()) {
                renew(kept, now);
            }
        }
        deliver(now);
    }

    /** New revisions of those whose listener changed since the newest one was made. */
    private void renew(List<UUID> kept, Instant now) {
        DeviceContent.Round round = content.round(now);
        for (UUID profile : kept) {
            if (!goesOn()) {
                return; // whoever has the duty looks at everything
            }
            try {
                if (round.judge(profile).behind()) {
                    profiles.renew(profile, By.tender(now));
                }
            } catch (Refused | MalformedException e) {
                LOG.info("{} is behind its listener and cannot be made anew: {}", profile, e.getMessage());
            }
        }
    }

    private void deliver(Instant now) {
        held.values().removeIf(until -> until.isBefore(now));
        List<Deliveries.Due> all = due();
        while (!all.isEmpty() && goesOn()) {
            DeviceContent.Round round = content.round(now);
            all.forEach(d -> deliver(round, d, now));
            all = due();
        }
    }

    private List<Deliveries.Due> due() {
        return db.inTransaction(tx -> Deliveries.due(tx, AT_ONCE + held.size())).stream()
                .filter(d -> !held.containsKey(revision(d)))
                .toList();
    }

    private void deliver(DeviceContent.Round round, Deliveries.Due due, Instant now) {
        String why;
        try {
            DeviceContent.Judged judged = round.judge(due.profileId());
            if (judged.content().isPresent()) {
                put(due, judged.content().get(), now);
                return;
            }
            why = judged.reasons();
        } catch (Refused | MalformedException e) {
            why = e.getMessage();
        }
        LOG.info("revision {} of {} is held back: {}", due.revision(), due.profileId(), why);
        held.put(revision(due), now.plus(HELD_BACK));
    }

    private static String revision(Deliveries.Due due) {
        return due.profileId() + "/" + due.revision();
    }

    private void put(Deliveries.Due due, DeliveredProfile c, Instant now) {
        byte[] sealed = SealingKey.seal(
                due.sealingKey(),
                DeliveredProfile.place(due.enrolmentId(), due.profileId(), due.revision()),
                c.write());
        db.run(tx -> {
            Deliveries.put(tx, due, sealed, now);
            tell(tx, List.of(due.enrolmentId()));
        });
    }

    /** In the transaction that is its reason: a device whose tag stays the same never hears of it. */
    private static void tell(Tx tx, List<UUID> enrolments) {
        if (!enrolments.isEmpty()) {
            Deliveries.tag(tx, enrolments);
            Set.copyOf(enrolments).forEach(id -> Events.say(tx, DeviceRoutes.TOPIC, id));
        }
    }

    @Override
    public void close() {
        synchronized (changed) {
            closed = true;
            changed.notifyAll();
        }
        try {
            thread.join(Duration.ofSeconds(5).toMillis());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
