package tender.service.office;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.WalkApi;
import tender.core.finding.Rule;
import tender.core.office.Network;
import tender.core.office.Office;
import tender.core.office.Uplink;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.finding.KeptFindings;
import tender.store.jdbc.Db;
import tender.store.profile.Standings;

/** The network sheet: everything that is drawn on one page. */
final class SheetRoutes implements Routes {
    private static final Set<Rule> OVERLAPS = Set.of(
            Rule.TUNNEL_OVERLAPS_SITE,
            Rule.TUNNELS_OVERLAP_ON_DEVICE,
            Rule.TUNNELS_OVERLAP_ACROSS,
            Rule.SITES_OVERLAP,
            Rule.JOINED_SITES_OVERLAP);

    private final Db db;
    private final OfficeRecords records;

    SheetRoutes(Db db, OfficeRecords records) {
        this.db = db;
        this.records = records;
    }

    @Override
    public List<Route> routes() {
        return List.of(Route.get(
                "/network-sheet",
                Role.READERS,
                "Sites, networks, gateways, tunnels and overlaps, for the network sheet",
                WalkApi.Sheet.class,
                this::sheet));
    }

    private Answer sheet(Call call) {
        Office office = records.withoutProfiles(call.now());
        List<UUID> ids = office.gateways().values().stream()
                .map(g -> UUID.fromString(g.id()))
                .toList();
        Map<String, KeptFindings.Count> found =
                db.inTransaction(tx -> KeptFindings.counts(tx, call.now(), ids)).stream()
                        .collect(Collectors.toMap(c -> c.gatewayId().toString(), c -> c));
        Map<String, Long> profiles = db.inTransaction(Standings::handedOut);
        List<WalkApi.SheetSite> sites = office.sites().stream()
                .map(s -> new WalkApi.SheetSite(
                        s.name(),
                        s.name(),
                        s.domain(),
                        networks(office, s),
                        office.gateways().values().stream()
                                .filter(g -> g.site().equals(s.name()))
                                .map(g -> gateway(g, found.get(g.id()), profiles))
                                .toList()))
                .toList();
        List<WalkApi.SheetLink> links = new ArrayList<>();
        office.gateways()
                .values()
                .forEach(g -> g.uplinks().stream()
                        .filter(u -> u.kind() == Uplink.Kind.BEHIND)
                        .forEach(u -> links.add(
                                new WalkApi.SheetLink(g.name(), u.behind().orElse(""), "behind"))));
        office.joined().forEach(j -> links.add(new WalkApi.SheetLink(j.one(), j.other(), "joined")));
        List<WalkApi.SheetOverlap> overlaps = db
                .inTransaction(tx -> KeptFindings.ofCodes(
                        tx, call.now(), OVERLAPS.stream().map(Rule::code).toList()))
                .stream()
                .map(f -> new WalkApi.SheetOverlap(f.subject(), f.evidence(), f.breaks()))
                .toList();
        return Answer.ok(new WalkApi.Sheet(sites, links, overlaps));
    }

    private static List<WalkApi.SheetNetwork> networks(Office office, Office.Site site) {
        Map<String, WalkApi.SheetNetwork> out = new java.util.LinkedHashMap<>();
        List<Network> all = new ArrayList<>(site.networks());
        office.gateways().values().stream()
                .filter(g -> g.site().equals(site.name()))
                .forEach(g -> all.addAll(g.device().networks()));
        all.forEach(n -> out.putIfAbsent(
                n.network().toString(),
                new WalkApi.SheetNetwork(n.name(), n.network().toString())));
        return List.copyOf(out.values());
    }

    private static WalkApi.SheetGateway gateway(
            Office.Gateway g, KeptFindings.Count found, Map<String, Long> profiles) {
        return new WalkApi.SheetGateway(
                g.id(),
                g.name(),
                g.kind(),
                g.uplinks().stream().findFirst().map(Uplink::words).orElse("uplink not recorded"),
                found == null ? 0 : found.all(),
                found != null && found.errors() > 0,
                g.device().listeners().stream()
                        .map(l -> new WalkApi.SheetListener(
                                l.name(),
                                l.protocol().title(),
                                String.join(
                                        ", ",
                                        l.ports().stream().map(Object::toString).toList()),
                                l.tunnels().stream().map(Object::toString).toList(),
                                profiles.getOrDefault(g.name() + " " + l.name(), 0L)
                                        .intValue()))
                        .toList());
    }
}
