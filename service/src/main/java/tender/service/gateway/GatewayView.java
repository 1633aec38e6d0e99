package tender.service.gateway;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.OfficeApi;
import tender.core.office.Uplink;
import tender.io.gateway.Capability;
import tender.service.device.DeviceDescriptions;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.office.OfficeRecords;
import tender.store.backup.Backups;
import tender.store.finding.KeptFindings;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.office.GatewayUse;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.Standings;

/** Gateways with their listeners and newest backups, as the API shows them. */
final class GatewayView {
    private final DeviceDescriptions descriptions;

    GatewayView(DeviceDescriptions descriptions) {
        this.descriptions = descriptions;
    }

    /** A gateway as it is now, with its version. */
    Answer answer(Db db, Gateways gateways, UUID id, Instant now) {
        return db.inTransaction(tx -> {
            Gateways.Gateway gateway = gateways.byId(tx, id).orElseThrow(() -> ApiFailure.notFound("gateway"));
            return Answer.ok(of(tx, now, List.of(gateway)).get(0), gateway.version());
        });
    }

    List<OfficeApi.Gateway> of(Tx tx, Instant now, List<Gateways.Gateway> all) {
        List<UUID> ids = all.stream().map(Gateways.Gateway::id).toList();
        Map<UUID, List<Listeners.Listener>> listeners =
                Listeners.of(tx, ids).stream().collect(Collectors.groupingBy(Listeners.Listener::gatewayId));
        Map<UUID, Backups.Backup> newest =
                Backups.newest(tx, ids).stream().collect(Collectors.toMap(Backups.Backup::gatewayId, b -> b));
        Map<UUID, KeptFindings.Count> findings = KeptFindings.counts(tx, now, ids).stream()
                .collect(Collectors.toMap(KeptFindings.Count::gatewayId, c -> c));
        Standings.refresh(tx);
        Map<UUID, GatewayUse> use =
                GatewayUse.of(tx, ids).stream().collect(Collectors.toMap(GatewayUse::gatewayId, u -> u));
        Map<String, List<String>> capabilities = new HashMap<>(); // by kind of device, not asked for each gateway
        return all.stream()
                .map(g -> of(
                        g,
                        capabilities.computeIfAbsent(
                                g.connector() + " " + g.description() + " " + g.readOnly(), k -> capabilities(g)),
                        Optional.ofNullable(newest.get(g.id())),
                        listeners.getOrDefault(g.id(), List.of()),
                        Optional.ofNullable(findings.get(g.id())),
                        use.get(g.id())))
                .toList();
    }

    private static OfficeApi.Gateway of(
            Gateways.Gateway g,
            List<String> capabilities,
            Optional<Backups.Backup> newest,
            List<Listeners.Listener> listeners,
            Optional<KeptFindings.Count> findings,
            GatewayUse use) {
        return new OfficeApi.Gateway(
                g.id().toString(),
                g.name(),
                g.site(),
                g.kind(),
                g.reading().make(),
                g.reading().model(),
                g.reading().release(),
                g.connector(),
                capabilities,
                g.address().toString(),
                g.port().number(),
                g.user(),
                g.signIn(),
                g.jump(),
                g.identity(),
                g.identityAccepted(),
                g.insideHost().map(Object::toString),
                g.hosts().stream().map(Object::toString).toList(),
                OfficeRecords.uplinks(g).stream().map(Uplink::words).toList(),
                g.factory(),
                g.description(),
                g.readOnly(),
                g.settings().contact().isEmpty()
                        ? Optional.empty()
                        : Optional.of(g.settings().contact()),
                g.reading().at(),
                g.reading().problem(),
                newest.map(b -> new OfficeApi.NewestBackup(b.id().toString(), b.number(), b.takenAt())),
                listeners.stream().map(GatewayView::of).toList(),
                findings.map(c -> new OfficeApi.FindingCounts(c.errors(), c.warnings(), c.notices()))
                        .orElse(new OfficeApi.FindingCounts(0, 0, 0)),
                new OfficeApi.Use(use.profiles(), use.people(), use.connected(), use.toDo()),
                g.createdAt(),
                g.version());
    }

    private static OfficeApi.Listener of(Listeners.Listener l) {
        int own = l.insideAddress().isPresent() ? 1 : 0;
        return new OfficeApi.Listener(
                l.id().toString(),
                l.name(),
                l.protocol(),
                l.transport().word(),
                l.port().number(),
                l.publicKey(),
                l.tunnels().stream().map(Object::toString).toList(),
                l.insideAddress().map(Object::toString),
                l.endpoint().map(Object::toString),
                l.active(),
                l.gone(),
                Math.max(0, l.taken().size() - own));
    }

    private List<String> capabilities(Gateways.Gateway g) {
        return descriptions.capabilities(g.connector(), g.description(), g.readOnly()).stream()
                .map(Capability::word)
                .sorted()
                .toList();
    }
}
