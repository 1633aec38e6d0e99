package tender.service.reconcile;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.io.gateway.Applied;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Listeners;
import tender.store.profile.ListenerProfiles;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.DesiredResources.Due;
import tender.store.reconcile.DesiredResources.Presence;

/** Notes in the records what a gateway has taken, and what it has refused. */
final class Settling {
    private static final String AGAIN = "; withdraw it again";

    private final Db db;
    private final Clock clock;
    private final Credentials credentials;

    Settling(Db db, Clock clock, Credentials credentials) {
        this.db = db;
        this.clock = clock;
        this.credentials = credentials;
    }

    private static List<UUID> profiles(List<Due> rows, Presence presence) {
        return rows.stream()
                .filter(r -> r.presence() == presence)
                .flatMap(r -> r.profileId().stream())
                .toList();
    }

    private static void say(Tx tx, List<Due> rows) {
        rows.forEach(r -> r.profileId().ifPresent(id -> Events.say(tx, "profile", id)));
    }

    private static void withdrawn(Tx tx, List<UUID> profiles) {
        Profiles.move(tx, profiles, Set.of(ProfileState.WITHDRAWING), ProfileState.WITHDRAWN, Optional.empty());
        Profiles.release(tx, Profiles.those(tx, profiles, ProfileState.WITHDRAWN));
    }

    /** The peers of one listener, taken or refused. */
    void peers(UUID gatewayId, List<Due> rows, Applied.Peers applied) {
        if (applied.refusal().isPresent()) {
            refused(gatewayId, rows, applied.refusal().get());
        } else {
            taken(gatewayId, rows, applied);
        }
    }

    private void taken(UUID gatewayId, List<Due> rows, Applied.Peers applied) {
        Instant now = clock.instant();
        db.run(tx -> {
            DesiredResources.active(tx, gatewayId, rows);
            List<UUID> added = profiles(rows, Presence.PRESENT);
            Profiles.move(tx, added, Set.of(ProfileState.WRITING), ProfileState.READY, Optional.empty());
            withdrawn(tx, profiles(rows, Presence.ABSENT));
            Listeners.taken(tx, rows.get(0).listenerId().orElseThrow(), applied.taken());
            say(tx, rows);
            Journal.append(
                    tx,
                    By.tender(now),
                    "gateway-changed",
                    "gateway",
                    gatewayId,
                    added.size() + " peers added, " + (rows.size() - added.size()) + " removed, read back and active");
        });
    }

    private void refused(UUID gatewayId, List<Due> rows, String why) {
        Instant now = clock.instant();
        db.run(tx -> {
            DesiredResources.failed(tx, gatewayId, rows, why);
            // one that was ready before and is to be let in again stays as it is
            List<UUID> added = Profiles.those(tx, profiles(rows, Presence.PRESENT), ProfileState.WRITING);
            Profiles.move(tx, added, Set.of(ProfileState.WRITING), ProfileState.FAILED, Optional.of(why));
            added.forEach(id -> credentials.revokeOf(tx, id));
            Profiles.release(tx, added);
            Profiles.move(
                    tx,
                    profiles(rows, Presence.ABSENT),
                    Set.of(ProfileState.WITHDRAWING),
                    ProfileState.WITHDRAWING,
                    Optional.of(why + AGAIN));
            say(tx, rows);
            Journal.append(
                    tx,
                    By.tender(now),
                    "gateway-change-failed",
                    "gateway",
                    gatewayId,
                    rows.size() + " peers; the gateway was rolled back");
        });
    }

    /** Accounts that were set and dropped. One beside a certificate is over when the revocation list is there too. */
    void accounts(UUID gatewayId, List<Due> rows) {
        Instant now = clock.instant();
        db.run(tx -> {
            DesiredResources.active(tx, gatewayId, rows);
            List<UUID> added = profiles(rows, Presence.PRESENT);
            added.forEach(id -> Profiles.ready(tx, id));
            withdrawn(
                    tx,
                    profiles(rows.stream().filter(r -> !r.besideCertificate()).toList(), Presence.ABSENT));
            say(tx, rows);
            Journal.append(
                    tx,
                    By.tender(now),
                    "accounts-delivered",
                    "gateway",
                    gatewayId,
                    added.size() + " set, " + (rows.size() - added.size()) + " dropped");
        });
    }

    /**
     * No more attempts are made for now. New profiles whose account the gateway does not take have failed; whatever is to go
     * stays due, and says why.
     */
    void gaveUp(UUID gatewayId, String why) {
        db.run(tx -> {
            List<Due> due = DesiredResources.due(tx, gatewayId);
            List<Due> accounts = new ArrayList<>(due);
            accounts.removeIf(r -> r.kind() != DesiredResources.Kind.ACCOUNT);
            List<Due> adding = accounts.stream()
                    .filter(r -> r.presence() == Presence.PRESENT)
                    .toList();
            DesiredResources.failed(tx, gatewayId, adding, why);
            Profiles.move(
                    tx,
                    profiles(adding, Presence.PRESENT),
                    Set.of(ProfileState.WRITING),
                    ProfileState.FAILED,
                    Optional.of(why));
            List<UUID> leaving = new ArrayList<>(profiles(accounts, Presence.ABSENT));
            leaving.addAll(waitingForLists(tx, gatewayId, due));
            Profiles.move(
                    tx, leaving, Set.of(ProfileState.WITHDRAWING), ProfileState.WITHDRAWING, Optional.of(why + AGAIN));
            say(tx, accounts);
        });
    }

    /** Profiles that are withdrawn once a revocation list is on the gateway. */
    private static List<UUID> waitingForLists(Tx tx, UUID gatewayId, List<Due> due) {
        if (due.stream().noneMatch(r -> r.kind() == DesiredResources.Kind.REVOCATION_LISTS)) {
            return List.of();
        }
        return Listeners.of(tx, List.of(gatewayId)).stream()
                .flatMap(l -> ListenerProfiles.withdrawingOf(tx, l.id()).stream())
                .toList();
    }
}
