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
import tender.core.device.OpenVpnMaterial;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.Protocol;
import tender.core.wire.MalformedException;
import tender.io.gateway.Capability;
import tender.io.gateway.Session;
import tender.service.device.Boxes;
import tender.service.device.Connections;
import tender.service.http.ApiFailure;
import tender.service.job.JobKind;
import tender.service.session.Watch;
import tender.store.certificate.Authorities;
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

    public ListDelivery(
            Db db,
            Clock clock,
            String node,
            String installation,
            Gateways gateways,
            Boxes boxes,
            Connections connections) {
        this.db = db;
        this.clock = clock;
        this.node = node;
        this.installation = installation;
        this.gateways = gateways;
        this.boxes = boxes;
        this.connections = connections;
    }

    public static Jobs.Order order(UUID gatewayId) {
        return Jobs.Order.once(NAME, gatewayId.toString(), "gateway:" + gatewayId);
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        UUID gatewayId = UUID.fromString(job.payload());
        Gateways.Gateway gateway =
                db.inTransaction(tx -> gateways.byId(tx, gatewayId)).orElseThrow();
        List<Listeners.Listener> all = db.inTransaction(tx -> Listeners.of(tx, List.of(gatewayId))).stream()
                .filter(l -> !l.gone())
                .toList();
        List<Listeners.Listener> listeners = all.stream()
                .filter(l -> l.protocol().equals(Protocol.OPENVPN.word()))
                .toList();
        Instant now = clock.instant();
        long fence = db.inTransaction(tx -> Writers.acquire(tx, gatewayId, node, now, now.plus(WRITER_LEASE)))
                .orElseThrow(() -> new ApiFailure(ProblemCode.CONFLICT, "another node is writing this gateway"));
        try (Session session = connections.open(gatewayId)) {
            if (session.capabilities().contains(Capability.REQUEST)) {
                told(session, gateway, all, new Session.Hold(installation, fence), now);
                return;
            }
            var files = session.readAll().files();
            for (Listeners.Listener l : listeners) {
                OpenVpnMaterial material =
                        OpenVpnMaterial.of(boxes.description(gateway.description()), files, l.name());
                authority(material).ifPresent(a -> {
                    String path = material.listPath()
                            .orElseThrow(
                                    () -> new MalformedException(
                                            "revocation-list",
                                            l.name(),
                                            "checks no list of revoked certificates; add crl-verify to its file, or retire its authority"));
                    put(session, path, a, new Session.Hold(installation, fence));
                    db.run(tx -> delivered(tx, gateway, l, a));
                });
            }
        }
        db.run(tx -> Writers.hold(tx, gatewayId, fence, clock.instant()));
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
                    .ifPresent(a -> those.put(l, a));
        }
        if (those.isEmpty()) {
            throw new MalformedException(
                    "revocation-list", gateway.name(), "no listener there believes one of our authorities");
        }
        List<Change> changes = new ArrayList<>();
        those.forEach((l, a) -> changes.add(new Change.PutRevocations(l.name(), PemText.write("X509 CRL", a.list()))));
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

    private static void put(Session session, String path, Authorities.Authority a, Session.Hold hold) {
        byte[] list = PemText.write("X509 CRL", a.list()).getBytes(java.nio.charset.StandardCharsets.US_ASCII);
        try (Session.Lock lock = session.lock(path, hold)) {
            byte[] before = session.read(path);
            if (!Arrays.equals(before, list)) {
                lock.replace(before, list);
            }
        }
    }

    private void delivered(Tx tx, Gateways.Gateway gateway, Listeners.Listener l, Authorities.Authority a) {
        List<UUID> withdrawn = Profiles.withdrawingOf(tx, l.id());
        Profiles.move(tx, withdrawn, Set.of("withdrawing"), "withdrawn", Optional.empty());
        Profiles.release(tx, withdrawn);
        withdrawn.forEach(id -> Events.say(tx, "profile", id.toString()));
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
