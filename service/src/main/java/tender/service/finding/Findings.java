package tender.service.finding;

import com.fasterxml.jackson.core.type.TypeReference;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.WatchApi;
import tender.core.finding.Finding;
import tender.core.finding.Office;
import tender.core.finding.Rules;
import tender.service.http.Answer;
import tender.service.http.Json;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.office.Sites;
import tender.store.profile.Revisions;

/** All findings, worked out from the records in a handful of bulk reads. */
public final class Findings {
    private static final int ALL = Integer.MAX_VALUE;

    private final Db db;
    private final Gateways gateways;

    public Findings(Db db, Gateways gateways) {
        this.db = db;
        this.gateways = gateways;
    }

    public List<Route> routes() {
        return List.of(Route.page(
                "/findings",
                Role.READERS,
                "What is wrong or about to be, worst first",
                WatchApi.Finding.class,
                call -> Answer.ok(new tender.api.Page<>(all(), java.util.Optional.empty()))));
    }

    public List<WatchApi.Finding> all() {
        Office office = db.inTransaction(this::gather);
        return Rules.evaluate(office).stream()
                .sorted(java.util.Comparator.comparing(Finding::severity)
                        .thenComparing(Finding::code)
                        .thenComparing(Finding::subject))
                .map(f -> new WatchApi.Finding(
                        f.code(),
                        f.severity().name().toLowerCase(Locale.ROOT),
                        f.subjectKind(),
                        f.subjectId(),
                        f.subject(),
                        f.evidence(),
                        f.breaks(),
                        f.remedy()))
                .toList();
    }

    private Office gather(Tx tx) {
        List<Sites.Site> sites = Sites.page(tx, "", ALL);
        Map<UUID, String> domainOfSite = sites.stream().collect(Collectors.toMap(Sites.Site::id, Sites.Site::domain));
        Map<UUID, String> domainOfGateway = gateways.page(tx, "", ALL).stream()
                .collect(Collectors.toMap(Gateways.Gateway::id, g -> domainOfSite.get(g.siteId())));
        List<Office.SiteNetwork> networks = new ArrayList<>();
        sites.forEach(s -> s.networks()
                .forEach((name, network) -> networks.add(new Office.SiteNetwork(s.domain(), s.name(), name, network))));
        List<Office.Listener> listeners = Listeners.all(tx).stream()
                .map(l -> new Office.Listener(
                        l.id().toString(),
                        domainOfGateway.get(l.gatewayId()),
                        l.gateway(),
                        l.name(),
                        l.tunnels(),
                        l.endpoint(),
                        new Office.ListenerSettings(
                                l.publicKey(),
                                l.port().number(),
                                l.endpoint().map(Object::toString).orElse(""),
                                l.tunnels().stream().map(Object::toString).collect(Collectors.joining(", ")))))
                .toList();
        List<Office.HandedOut> handedOut = Revisions.given(tx).stream()
                .map(g -> new Office.HandedOut(
                        g.profileId().toString(),
                        g.label(),
                        g.person().orElse(g.label()),
                        g.listenerId().toString(),
                        Json.readOwn(g.madeFor(), new TypeReference<Office.ListenerSettings>() {})))
                .toList();
        return new Office(networks, listeners, handedOut);
    }
}
