package tender.service.finding;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.Condition;
import java.util.concurrent.locks.ReentrantLock;
import tender.service.event.LiveEvents;
import tender.store.finding.KeptFindings;

/** What has changed since findings were judged last, gathered from the news until somebody takes it. */
final class Changed {
    /** Past this many, everything is judged instead of each by itself. */
    private static final int MOST = 20_000;

    /**
     * What has changed.
     *
     * @param everything all of it is to be judged, from records read anew
     * @param names host names that lead elsewhere now
     * @param gateways ids of gateways
     * @param profiles ids of profiles and handouts
     * @param own something that Tender itself runs changed: monitors, authorities
     * @param wanted ids of those who wait until this is judged
     */
    record News(
            boolean everything,
            Set<String> names,
            Set<UUID> gateways,
            Set<UUID> profiles,
            boolean own,
            List<String> wanted) {
        boolean isEmpty() {
            return !everything
                    && names.isEmpty()
                    && gateways.isEmpty()
                    && profiles.isEmpty()
                    && !own
                    && wanted.isEmpty();
        }
    }

    private final ReentrantLock lock = new ReentrantLock();
    private final Condition news = lock.newCondition();
    private boolean everything;
    private boolean own;
    private Set<String> names = new HashSet<>();
    private Set<UUID> gateways = new HashSet<>();
    private Set<UUID> profiles = new HashSet<>();
    private List<String> wanted = new ArrayList<>();

    void heard(String topic, String id) {
        lock.lock();
        try {
            switch (topic) {
                case "gateway" -> gateways.add(UUID.fromString(id));
                case "profile", "handout" -> profiles.add(UUID.fromString(id));
                case "site", "person", LiveEvents.RECONNECTED -> everything = true;
                case "name" -> names.add(id);
                case "monitor", "authority" -> own = true;
                case KeptFindings.WANTED -> wanted.add(id);
                default -> {
                    return;
                }
            }
            everything |= names.size() + gateways.size() + profiles.size() > MOST;
            if (everything) {
                names.clear();
                gateways.clear();
                profiles.clear();
            }
            news.signal();
        } finally {
            lock.unlock();
        }
    }

    void everything() {
        lock.lock();
        try {
            everything = true;
            news.signal();
        } finally {
            lock.unlock();
        }
    }

    private boolean isNothing() {
        return !everything && !own && names.isEmpty() && gateways.isEmpty() && profiles.isEmpty() && wanted.isEmpty();
    }

    /**
     * Waits for news and takes it.
     *
     * @param longest after this there may be none
     * @param settle how long more news is waited for once there is some; not while anybody waits for it
     */
    News await(Duration longest, Duration settle) throws InterruptedException {
        lock.lock();
        try {
            long left = longest.toNanos();
            while (isNothing() && left > 0) {
                left = news.awaitNanos(left);
            }
            long settling = settle.toNanos();
            while (!isNothing() && wanted.isEmpty() && settling > 0) {
                settling = news.awaitNanos(settling);
            }
            News taken = new News(everything, names, gateways, profiles, own, wanted);
            everything = false;
            names = new HashSet<>();
            own = false;
            gateways = new HashSet<>();
            profiles = new HashSet<>();
            wanted = new ArrayList<>();
            return taken;
        } finally {
            lock.unlock();
        }
    }

    /** Rests after a failure, whatever news there is. */
    void rest(Duration time) {
        try {
            TimeUnit.MILLISECONDS.sleep(time.toMillis());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
