package tender.service.gateway;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.locks.ReentrantLock;
import java.util.stream.Collectors;
import tender.api.ProblemCode;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.device.DeviceFiles;
import tender.core.network.Cidr;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.profile.ClientProfile;
import tender.core.profile.WireGuardFile;
import tender.core.wireguard.StatusDump;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.Session;
import tender.service.backup.BackupKeeping;
import tender.service.device.Connections;
import tender.service.http.ApiFailure;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.office.Writers;
import tender.store.profile.Changes;
import tender.store.profile.Profiles;

/**
 * Brings a gateway to what the records want: one run writes all wanted peers at once.
 *
 * <p>The order keeps records and device together whatever is killed when. What is wanted is in the database before the
 * device is touched, and is struck out only after the device's file and its status both show it. In between a run can
 * stop anywhere: the next one reads the file, adds what is not there yet, reloads if the status lacks it, and confirms. A
 * file is replaced whole, under the device's lock and the database's fence, and only if it is still what was read. When
 * the device refuses to take a file up, the file that was in force comes back and the profiles are marked failed.
 */
public final class GatewayChanges {
    private static final Duration WRITER_LEASE = Duration.ofSeconds(60);
    private static final String ADD = "add-peer";
    private static final String REMOVE = "remove-peer";

    private final Db db;
    private final Clock clock;
    private final String node;
    private final String installation;
    private final Gateways gateways;
    private final Credentials credentials;
    private final Connections connections;
    private final BackupKeeping backups;
    private final Map<UUID, ReentrantLock> here = new ConcurrentHashMap<>();

    public GatewayChanges(
            Db db,
            Clock clock,
            String node,
            String installation,
            Gateways gateways,
            Credentials credentials,
            Connections connections,
            BackupKeeping backups) {
        this.db = db;
        this.clock = clock;
        this.node = node;
        this.installation = installation;
        this.gateways = gateways;
        this.credentials = credentials;
        this.connections = connections;
        this.backups = backups;
    }

    public void run(UUID gatewayId) {
        run(gatewayId, (percent, note) -> {});
    }

    /** Does all that is wanted now; nothing wanted is no work. {@code progress} hears each step. */
    public void run(UUID gatewayId, Steps progress) {
        ReentrantLock lock = here.computeIfAbsent(gatewayId, id -> new ReentrantLock());
        lock.lock();
        try {
            List<Changes.Change> wanted = db.inTransaction(tx -> Changes.wanted(tx, gatewayId));
            if (!wanted.isEmpty()) {
                write(gatewayId, wanted, progress);
            }
        } catch (GatewayFailure e) {
            db.run(tx -> {
                gateways.problem(tx, gatewayId, Optional.of(e.getMessage()));
                Events.say(tx, "gateway", gatewayId.toString());
            });
            throw e;
        } finally {
            lock.unlock();
        }
    }

    /** Hears how far a write is. */
    @FunctionalInterface
    public interface Steps {
        void at(int percent, String note);
    }

    private void write(UUID gatewayId, List<Changes.Change> wanted, Steps progress) {
        Instant now = clock.instant();
        long fence = db.inTransaction(tx -> Writers.acquire(tx, gatewayId, node, now, now.plus(WRITER_LEASE)))
                .orElseThrow(() -> new ApiFailure(ProblemCode.CONFLICT, "another node is writing this gateway"));
        String release = db.inTransaction(tx -> gateways.byId(tx, gatewayId))
                .map(Gateways.Gateway::release)
                .orElse("");
        try (Session session = connections.open(gatewayId)) {
            ArmedRollback.callOff(db, session, gatewayId);
            progress.at(10, "backup before " + wanted.size() + " changes");
            backups.keep(gatewayId, release, session.readAll(), "before a change", "tender", now);
            Map<String, List<Changes.Change>> byListener = wanted.stream()
                    .collect(Collectors.groupingBy(Changes.Change::listener, LinkedHashMap::new, Collectors.toList()));
            for (Map.Entry<String, List<Changes.Change>> listener : byListener.entrySet()) {
                write(session, gatewayId, listener.getKey(), listener.getValue(), fence, progress);
            }
        }
        db.run(tx -> {
            gateways.problem(tx, gatewayId, Optional.empty());
            Writers.hold(tx, gatewayId, fence, clock.instant());
        });
    }

    private void write(
            Session session,
            UUID gatewayId,
            String listener,
            List<Changes.Change> changes,
            long fence,
            Steps progress) {
        String path = session.tunnelFile(listener);
        Map<UUID, Secret> presharedKeys = db.inTransaction(tx -> credentials.secrets(
                tx, changes.stream().flatMap(c -> c.presharedId().stream()).toList()));
        try (Session.Lock lock = session.lock(path, new Session.Hold(installation, fence))) {
            byte[] before = session.read(path);
            String after = changed(parse(before), changes, presharedKeys).text();
            byte[] bytes = after.getBytes(StandardCharsets.ISO_8859_1);
            boolean differs = !Arrays.equals(before, bytes);
            if (differs) {
                db.run(tx -> Writers.hold(tx, gatewayId, fence, clock.instant().plus(WRITER_LEASE)));
                progress.at(30, "writing " + changes.size() + " changes to " + listener + " at once");
                lock.replace(before, bytes);
            }
            progress.at(60, "taking them up, reading them back");
            Optional<String> refusal = takeUp(session, path, listener, changes, presharedKeys, differs);
            if (refusal.isEmpty()) {
                progress.at(90, changes.size() + " changes in force, noting them");
                confirmed(gatewayId, changes, DeviceFiles.taken(parse(bytes)));
            } else {
                lock.replace(bytes, differs ? before : withoutAdded(parse(bytes), changes));
                failed(gatewayId, changes, refusal.get());
            }
        }
    }

    /** One byte one character, so that bytes we do not understand come back as they were. */
    private static WireGuardFile parse(byte[] content) {
        return WireGuardFile.read(new String(content, StandardCharsets.ISO_8859_1))
                .file();
    }

    private static WireGuardFile changed(
            WireGuardFile file, List<Changes.Change> changes, Map<UUID, Secret> presharedKeys) {
        WireGuardFile out = file;
        List<String> sections = new ArrayList<>();
        for (Changes.Change change : changes) {
            TunnelKey key = TunnelKey.parse(change.publicKey());
            if (!change.kind().equals(ADD)) {
                out = out.withoutPeer(key);
            } else if (file.peer(key).isEmpty()) {
                sections.add(ClientProfile.gatewaySection(
                        change.label(),
                        key,
                        change.presharedId().map(presharedKeys::get),
                        change.addresses().stream().map(Cidr::host).toList()));
            }
        }
        return sections.isEmpty() ? out : out.withPeer(String.join("\n", sections));
    }

    private static byte[] withoutAdded(WireGuardFile file, List<Changes.Change> changes) {
        WireGuardFile out = file;
        for (Changes.Change change : changes) {
            out = change.kind().equals(ADD) ? out.withoutPeer(TunnelKey.parse(change.publicKey())) : out;
        }
        return out.text().getBytes(StandardCharsets.ISO_8859_1);
    }

    /** Reloads where needed and compares file and status with what is wanted; gives why not, if not. */
    private Optional<String> takeUp(
            Session session,
            String path,
            String listener,
            List<Changes.Change> changes,
            Map<UUID, Secret> presharedKeys,
            boolean differs) {
        if (differs || !isInForce(session.status(), listener, changes, presharedKeys)) {
            try {
                session.apply();
            } catch (GatewayFailure e) {
                if (e.kind() != GatewayFailure.Kind.COMMAND_FAILED) {
                    throw e;
                }
                return Optional.of(e.getMessage());
            }
        }
        boolean written = changed(parse(session.read(path)), changes, presharedKeys)
                .text()
                .equals(parse(session.read(path)).text());
        boolean inForce = isInForce(session.status(), listener, changes, presharedKeys);
        return written && inForce
                ? Optional.empty()
                : Optional.of("the gateway reloaded, but does not show the change");
    }

    private static boolean isInForce(
            StatusDump status, String listener, List<Changes.Change> changes, Map<UUID, Secret> presharedKeys) {
        Optional<StatusDump.Interface> live = status.named(listener);
        if (live.isEmpty()) {
            return false;
        }
        Map<TunnelKey, StatusDump.Peer> peers =
                live.get().peers().stream().collect(Collectors.toMap(StatusDump.Peer::publicKey, p -> p, (a, b) -> a));
        return changes.stream().allMatch(change -> {
            StatusDump.Peer peer = peers.get(TunnelKey.parse(change.publicKey()));
            if (!change.kind().equals(ADD)) {
                return peer == null;
            }
            return peer != null
                    && peer.presharedKey().equals(change.presharedId().map(presharedKeys::get))
                    && peer.allowed().stream()
                            .map(InterfaceAddress::address)
                            .collect(Collectors.toSet())
                            .containsAll(change.addresses());
        });
    }

    private static List<UUID> profiles(List<Changes.Change> changes, boolean added) {
        return changes.stream()
                .filter(c -> c.kind().equals(ADD) == added)
                .map(Changes.Change::profileId)
                .toList();
    }

    private void confirmed(UUID gatewayId, List<Changes.Change> changes, List<IpAddress> taken) {
        Instant now = clock.instant();
        db.run(tx -> {
            Changes.end(tx, changes.stream().map(Changes.Change::id).toList(), "confirmed", now);
            Profiles.move(tx, profiles(changes, true), Set.of("writing"), "ready", Optional.empty());
            List<UUID> removed = profiles(changes, false);
            Profiles.move(tx, removed, Set.of("withdrawing"), "withdrawn", Optional.empty());
            Profiles.release(
                    tx,
                    changes.stream()
                            .filter(c -> c.kind().equals(REMOVE))
                            .map(Changes.Change::profileId)
                            .toList());
            Listeners.taken(tx, changes.get(0).listenerId(), taken);
            changes.forEach(c -> Events.say(tx, "profile", c.profileId().toString()));
            Journal.append(
                    tx,
                    now,
                    "tender",
                    "gateway-changed",
                    "gateway",
                    gatewayId.toString(),
                    profiles(changes, true).size() + " peers added, " + removed.size()
                            + " removed, read back and in force");
        });
    }

    private void failed(UUID gatewayId, List<Changes.Change> changes, String why) {
        Instant now = clock.instant();
        db.run(tx -> {
            Changes.end(tx, changes.stream().map(Changes.Change::id).toList(), "failed", now);
            // one that was ready before and is to be let in again stays as it is
            List<UUID> added = Profiles.those(tx, profiles(changes, true), "writing");
            Profiles.move(tx, added, Set.of("writing"), "failed", Optional.of(why));
            added.forEach(id -> credentials.revokeOf(tx, id));
            Profiles.release(tx, added);
            Profiles.move(
                    tx,
                    profiles(changes, false),
                    Set.of("withdrawing"),
                    "withdrawing",
                    Optional.of(why + "; withdraw it again"));
            changes.forEach(c -> Events.say(tx, "profile", c.profileId().toString()));
            Journal.append(
                    tx,
                    now,
                    "tender",
                    "gateway-change-failed",
                    "gateway",
                    gatewayId.toString(),
                    changes.size() + " peers; what was in force came back");
        });
    }
}
