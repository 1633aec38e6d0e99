package tender.service.certificate;

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
import java.util.stream.Collectors;
import tender.api.ProblemCode;
import tender.core.backup.Snapshot;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.certificate.RevocationList;
import tender.core.device.OpenVpnMaterial;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.Protocol;
import tender.core.wire.MalformedException;
import tender.io.gateway.Capability;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.Session;
import tender.service.backup.BackupKeeping;
import tender.service.device.Boxes;
import tender.service.device.Connections;
import tender.service.gateway.ArmedRollback;
import tender.service.http.ApiFailure;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.session.Watch;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.office.Writers;
import tender.store.profile.Profiles;

/**
 * Puts the list of revoked certificates where a gateway's listeners look for it: as a file that OpenVPN reads anew for every
 * caller, or as a change that the device takes up. Profiles that were being withdrawn there are withdrawn then.
 */
public final class ListDelivery implements JobKind {
    private static final String NAME = "list-delivery";
    private static final Duration WRITER_LEASE = Duration.ofSeconds(60);

    private final Db db;
    private final Clock clock;
    private final String node;
    private final String installation;
    private final Gateways gateways;
    private final Boxes boxes;
    private final Connections connections;
    private final Signing signing;
    private final BackupKeeping backups;

    public ListDelivery(
            Db db,
            Clock clock,
            String node,
            String installation,
            Gateways gateways,
            Boxes boxes,
            Connections connections,
            Signing signing,
            BackupKeeping backups) {
        this.db = db;
        this.clock = clock;
        this.node = node;
        this.installation = installation;
        this.gateways = gateways;
        this.boxes = boxes;
        this.connections = connections;
        this.signing = signing;
        this.backups = backups;
    }

    public static Jobs.Order order(UUID gatewayId) {
        return Jobs.Order.once(NAME, gatewayId.toString(), "gateway:" + gatewayId);
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public Lane lane() {
        return Lane.INTERACTIVE;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        deliver(UUID.fromString(job.payload()));
    }

    /** Where no listener believes an authority of ours there is nothing to do. */
    public void restore(UUID gatewayId) {
        if (!db.inTransaction(tx -> Certificates.authoritiesAt(tx, gatewayId)).isEmpty()) {
            deliver(gatewayId);
        }
    }

    private void deliver(UUID gatewayId) {
        Gateways.Gateway gateway =
                db.inTransaction(tx -> gateways.byId(tx, gatewayId)).orElseThrow();
        List<Listeners.Listener> all = db.inTransaction(tx -> Listeners.of(tx, List.of(gatewayId))).stream()
                .filter(l -> !l.gone())
                .toList();
        Instant now = clock.instant();
        long fence = db.inTransaction(tx -> Writers.acquire(tx, gatewayId, node, now, now.plus(WRITER_LEASE)))
                .orElseThrow(() -> new ApiFailure(ProblemCode.CONFLICT, "another node is writing this gateway"));
        Session.Hold hold = new Session.Hold(installation, fence);
        try (Session session = connections.open(gatewayId)) {
            ArmedRollback.callOff(db, session, gatewayId);
            if (session.capabilities().contains(Capability.REQUEST)) {
                told(session, gateway, all, hold, now);
            } else {
                written(session, gateway, all, hold, now);
            }
        }
        db.run(tx -> Writers.hold(tx, gatewayId, fence, clock.instant()));
    }

    /** Files that OpenVPN reads anew for every caller; each is backed up before it is replaced. */
    private void written(
            Session session,
            Gateways.Gateway gateway,
            List<Listeners.Listener> listeners,
            Session.Hold hold,
            Instant now) {
        Snapshot read = session.readAll();
        boolean kept = false;
        for (Listeners.Listener l : listeners) {
            if (!l.protocol().equals(Protocol.OPENVPN.word())) {
                continue;
            }
            OpenVpnMaterial material =
                    OpenVpnMaterial.of(boxes.description(gateway.description()), read.files(), l.name());
            Optional<Authorities.Authority> ours = authority(material);
            if (ours.isEmpty()) {
                continue;
            }
            String path = material.listPath()
                    .orElseThrow(() -> new MalformedException(
                            "revocation-list",
                            l.name(),
                            "checks no revocation list; add crl-verify to its file, or retire its authority"));
            ListFile file = ListFile.read(path, session.read(path), ours.get().certificate());
            Authorities.Authority a = learned(ours.get(), file.ours(), gateway, path, now);
            byte[] fresh = file.with(a.list());
            if (!Arrays.equals(file.content(), fresh)) {
                if (!kept) {
                    backups.keep(gateway.id(), gateway.release(), read, "before a revocation list", "tender", now);
                    kept = true;
                }
                try (Session.Lock lock = session.lock(path, hold)) {
                    lock.replace(file.content(), fresh);
                }
                if (!Arrays.equals(session.read(path), fresh)) {
                    throw new GatewayFailure(
                            GatewayFailure.Kind.COMMAND_FAILED,
                            gateway.name() + ": " + path + " was written and does not hold the revocation list",
                            null);
                }
            }
            db.run(tx -> delivered(tx, gateway, l, a));
        }
    }

    /** The authority with a list that names whatever was revoked at the gateway without Tender. */
    private Authorities.Authority learned(
            Authorities.Authority a, List<RevocationList> found, Gateways.Gateway gateway, String where, Instant now) {
        return db.inTransaction(tx -> {
            found.forEach(list -> signing.learn(tx, a.id(), list, gateway.name() + " " + where, now));
            return Authorities.byId(tx, a.id()).orElseThrow();
        });
    }

    /** A device that was given its certificate by us takes the list as a change; one write for all of its listeners. */
    private void told(
            Session session,
            Gateways.Gateway gateway,
            List<Listeners.Listener> listeners,
            Session.Hold hold,
            Instant now) {
        Snapshot read = session.readAll();
        Device device = session.device(read, now);
        Map<Listeners.Listener, Authorities.Authority> those = new LinkedHashMap<>();
        Map<String, Authorities.Authority> authorities = db.inTransaction(Authorities::all).stream()
                .collect(Collectors.toMap(
                        a -> CertificateFacts.of(a.certificate()).fingerprint(), a -> a, (a, b) -> a));
        for (Listeners.Listener l : listeners) {
            device.listener(l.name())
                    .flatMap(d -> d.get(Attribute.AUTHORITY))
                    .map(authorities::get)
                    .ifPresent(a -> those.put(
                            l, learned(a, ListFile.ofBridge(read, l.name(), a.certificate()), gateway, l.name(), now)));
        }
        if (those.isEmpty()) {
            throw new MalformedException(
                    "revocation-list", gateway.name(), "no listener there believes one of our authorities");
        }
        // what one listener taught counts for all that believe the same authority
        those.replaceAll(
                (l, a) -> db.inTransaction(tx -> Authorities.byId(tx, a.id())).orElseThrow());
        List<Change> changes = new ArrayList<>();
        those.forEach((l, a) ->
                changes.add(new Change.PutRevocations(l.name(), PemText.write(Signing.LIST_LABEL, a.list()))));
        backups.keep(gateway.id(), gateway.release(), read, "before a revocation list", "tender", now);
        session.change(read, device, changes, hold);
        List<String> leaving = db.inTransaction(tx -> Profiles.accounts(tx, gateway.id(), "withdrawing")).stream()
                .filter(p -> p.presharedId().isPresent()) // the account beside the certificate
                .map(p -> p.publicKey().substring(Watch.BY_NAME.length()))
                .toList();
        if (!leaving.isEmpty()) {
            session.accounts(List.of(), leaving, hold);
        }
        session.apply();
        db.run(tx -> {
            those.forEach((l, a) -> delivered(tx, gateway, l, a));
            Writers.hold(tx, gateway.id(), hold.fence(), clock.instant());
        });
    }

    private Optional<Authorities.Authority> authority(OpenVpnMaterial material) {
        String wanted = CertificateFacts.of(material.authority()).fingerprint();
        return db.inTransaction(Authorities::all).stream()
                .filter(a -> CertificateFacts.of(a.certificate()).fingerprint().equals(wanted))
                .findFirst();
    }

    private void delivered(Tx tx, Gateways.Gateway gateway, Listeners.Listener l, Authorities.Authority a) {
        List<UUID> withdrawn = Profiles.withdrawingOf(tx, l.id());
        Profiles.move(tx, withdrawn, Set.of("withdrawing"), "withdrawn", Optional.empty());
        Profiles.release(tx, withdrawn);
        withdrawn.forEach(id -> Events.say(tx, "profile", id.toString()));
        Listeners.missingSerials(tx, l.id(), List.of());
        Journal.append(
                tx,
                clock.instant(),
                "tender",
                "revocation-list-delivered",
                "gateway",
                gateway.id().toString(),
                l.name() + ": list " + a.listNumber() + " of " + a.name());
    }

    /** A device that stays away keeps its withdrawals waiting, and says so. */
    @Override
    public void gaveUp(Jobs.Job job, String why) {
        UUID gatewayId = UUID.fromString(job.payload());
        db.run(tx -> {
            for (Listeners.Listener l : Listeners.of(tx, List.of(gatewayId))) {
                Profiles.move(
                        tx,
                        Profiles.withdrawingOf(tx, l.id()),
                        Set.of("withdrawing"),
                        "withdrawing",
                        Optional.of(why + "; withdraw it again"));
            }
        });
    }
}
