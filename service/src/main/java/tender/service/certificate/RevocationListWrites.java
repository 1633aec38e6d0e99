package tender.service.certificate;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.backup.Snapshot;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.certificate.RevocationList;
import tender.core.device.SharedClientSettings;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.ListenerChange;
import tender.core.office.Protocol;
import tender.core.wire.MalformedException;
import tender.io.gateway.Capability;
import tender.io.gateway.GatewayPlan;
import tender.io.gateway.ManagementConnection;
import tender.service.device.DeviceDescriptions;
import tender.store.certificate.Authorities;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.ListenerProfiles;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;

/**
 * What has to be written so that a gateway's listeners know the newest revocation lists: files that OpenVPN reads anew for
 * every caller, or settings that the device takes. Once they are there, profiles that were being withdrawn are withdrawn.
 */
public final class RevocationListWrites {
    private final Db db;
    private final Clock clock;
    private final DeviceDescriptions descriptions;
    private final Revoking revoking;

    RevocationListWrites(Db db, Clock clock, DeviceDescriptions descriptions, Revoking revoking) {
        this.db = db;
        this.clock = clock;
        this.descriptions = descriptions;
        this.revoking = revoking;
    }

    /**
     * A listener, and the authority whose list it needs.
     *
     * @param withdrawing profiles that wait for that list; asked before the list was taken, so that it names all of them
     */
    public record Needed(Listeners.Listener listener, Authorities.Authority authority, List<UUID> withdrawing) {}

    /**
     * What is to be written.
     *
     * @param files only those that hold another list now
     * @param needed every listener that is served, also where its file holds the list already
     */
    public record Writes(
            List<GatewayPlan.ListFile> files, Optional<GatewayPlan.Settings> settings, List<Needed> needed) {}

    /**
     * Compares what the gateway has with what it needs. What was revoked there without Tender is learned first.
     *
     * @throws MalformedException where a listener checks no list, or its file is none
     */
    public Writes of(ManagementConnection connection, Gateways.Gateway gateway, Snapshot read) {
        List<Listeners.Listener> listeners = db.inTransaction(tx -> Listeners.of(tx, List.of(gateway.id()))).stream()
                .filter(l -> !l.gone())
                .toList();
        return connection.capabilities().contains(Capability.REQUEST)
                ? settings(connection, gateway, listeners, read)
                : files(connection, gateway, listeners, read);
    }

    private Writes files(
            ManagementConnection connection,
            Gateways.Gateway gateway,
            List<Listeners.Listener> listeners,
            Snapshot read) {
        List<GatewayPlan.ListFile> files = new ArrayList<>();
        List<Needed> needed = new ArrayList<>();
        for (Listeners.Listener l : listeners) {
            if (!l.protocol().equals(Protocol.OPENVPN.word())) {
                continue;
            }
            List<UUID> withdrawing = withdrawing(l);
            SharedClientSettings shared =
                    SharedClientSettings.of(descriptions.description(gateway.description()), read.files(), l.name());
            Optional<Authorities.Authority> ours = authority(shared);
            if (ours.isEmpty()) {
                continue;
            }
            String path = shared.listPath()
                    .orElseThrow(() -> new MalformedException(
                            "revocation-list",
                            l.name(),
                            "checks no revocation list; add crl-verify to its file, or remove its authority"));
            ListFile file = ListFile.read(
                    path, connection.revocationLists(path), ours.get().certificate());
            Authorities.Authority a = learned(ours.get(), file.ours(), gateway.name() + " " + path);
            byte[] fresh = file.with(a.list());
            boolean planned = files.stream().anyMatch(f -> f.path().equals(path)); // two listeners share it
            if (!planned && !Arrays.equals(file.content(), fresh)) {
                files.add(new GatewayPlan.ListFile(path, file.content(), fresh));
            }
            needed.add(new Needed(l, a, withdrawing));
        }
        return new Writes(files, Optional.empty(), needed);
    }

    /** A device that was given its certificate by us takes the lists as settings; one write for all of its listeners. */
    private Writes settings(
            ManagementConnection connection,
            Gateways.Gateway gateway,
            List<Listeners.Listener> listeners,
            Snapshot read) {
        Device device = connection.device(read, clock.instant());
        Map<Listeners.Listener, Authorities.Authority> those = new LinkedHashMap<>();
        Map<String, Authorities.Authority> authorities = db.inTransaction(Authorities::all).stream()
                .collect(Collectors.toMap(
                        a -> CertificateFacts.of(a.certificate()).fingerprint(), a -> a, (a, b) -> a));
        for (Listeners.Listener l : listeners) {
            device.listener(l.name())
                    .flatMap(d -> d.get(Attribute.AUTHORITY))
                    .map(authorities::get)
                    .ifPresent(a -> those.put(
                            l,
                            learned(
                                    a,
                                    ListFile.ofGatewayApi(read, l.name(), a.certificate()),
                                    gateway.name() + " " + l.name())));
        }
        if (those.isEmpty()) {
            throw new MalformedException(
                    "revocation-list", gateway.name(), "no listener there believes one of our authorities");
        }
        List<Change> changes = new ArrayList<>();
        List<Needed> needed = new ArrayList<>();
        those.forEach((l, a) -> {
            // what one listener taught counts for all that believe the same authority
            List<UUID> withdrawing = withdrawing(l);
            Authorities.Authority now =
                    db.inTransaction(tx -> Authorities.byId(tx, a.id())).orElseThrow();
            changes.add(new ListenerChange.PutRevocations(l.name(), PemText.write(Revoking.LIST_LABEL, now.list())));
            needed.add(new Needed(l, now, withdrawing));
        });
        return new Writes(
                List.of(),
                Optional.of(new GatewayPlan.Settings(read, device, changes, GatewayPlan.Reload.EVERYTHING)),
                needed);
    }

    private List<UUID> withdrawing(Listeners.Listener l) {
        return db.inTransaction(tx -> ListenerProfiles.withdrawingOf(tx, l.id()));
    }

    /** The authority with a list that names whatever was revoked at the gateway without Tender. */
    private Authorities.Authority learned(Authorities.Authority a, List<RevocationList> found, String where) {
        Instant now = clock.instant();
        return db.inTransaction(tx -> {
            found.forEach(list -> revoking.learn(tx, a.id(), list, where, now));
            return Authorities.byId(tx, a.id()).orElseThrow();
        });
    }

    private Optional<Authorities.Authority> authority(SharedClientSettings shared) {
        String wanted = CertificateFacts.of(shared.authority()).fingerprint();
        return db.inTransaction(Authorities::all).stream()
                .filter(a -> CertificateFacts.of(a.certificate()).fingerprint().equals(wanted))
                .findFirst();
    }

    /** Notes that a listener has the list that it needs. */
    public static void delivered(Tx tx, Gateways.Gateway gateway, Needed needed, Instant now) {
        Listeners.Listener l = needed.listener();
        List<UUID> withdrawn = needed.withdrawing();
        Profiles.move(tx, withdrawn, Set.of(ProfileState.WITHDRAWING), ProfileState.WITHDRAWN, Optional.empty());
        Profiles.release(tx, Profiles.those(tx, withdrawn, ProfileState.WITHDRAWN));
        withdrawn.forEach(id -> Events.say(tx, "profile", id));
        Listeners.missingSerials(tx, l.id(), List.of());
        Journal.append(
                tx,
                By.tender(now),
                "revocation-list-delivered",
                "gateway",
                gateway.id(),
                l.name() + ": list " + needed.authority().listNumber() + " of "
                        + needed.authority().name());
    }
}
