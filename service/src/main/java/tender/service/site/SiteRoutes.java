package tender.service.site;

import java.time.DateTimeException;
import java.time.ZoneId;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.core.network.Cidr;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.journal.Journal;
import tender.store.office.Sites;

/** Sites. */
public final class SiteRoutes implements Routes {
    private static final int MAX_NETWORKS = 200;

    private final Db db;

    public SiteRoutes(Db db) {
        this.db = db;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/sites",
                        Role.READERS,
                        "Sites by name",
                        OfficeApi.Site.class,
                        call -> Cursor.byName(
                                call,
                                (after, limit) -> db.inTransaction(tx -> Sites.page(tx, after, limit)),
                                Sites.Site::name,
                                sites -> sites.stream().map(SiteRoutes::render).toList())),
                Route.post(
                        "/sites",
                        Role.WRITERS,
                        "Add a site with its networks",
                        OfficeApi.AddSite.class,
                        OfficeApi.Site.class,
                        this::add),
                Route.patch(
                        "/sites/{id}",
                        Role.WRITERS,
                        "Change a site: name, title, time zone, networks to put or drop",
                        OfficeApi.SetSite.class,
                        OfficeApi.Site.class,
                        this::set),
                Route.get("/sites/named/{name}", Role.READERS, "A site by its name", OfficeApi.Site.class, call -> {
                    Sites.Site site = db.inTransaction(tx -> Sites.byName(tx, call.path("name")))
                            .orElseThrow(() -> ApiFailure.notFound("site"));
                    return Answer.ok(render(site), site.version());
                }));
    }

    private Answer set(Call call) {
        OfficeApi.SetSite request = call.body(OfficeApi.SetSite.class);
        int version = call.version();
        Sites.Site site =
                db.inTransaction(tx -> Sites.byId(tx, call.id())).orElseThrow(() -> ApiFailure.notFound("site"));
        Map<String, Cidr> put = networks(request.networks().orElse(Map.of()));
        Fields.range("networks", site.networks().size() + put.size(), 0, MAX_NETWORKS);
        Sites.Site changed = new Sites.Site(
                site.id(),
                request.name().map(n -> Fields.name("name", n)).orElse(site.name()),
                request.title().map(t -> Fields.title("title", t)).orElse(site.title()),
                site.domain(),
                request.timeZone().map(SiteRoutes::zone).orElse(site.timeZone()),
                site.networks(),
                version);
        db.run(tx -> {
            Sites.set(tx, changed, put, request.drop().orElse(java.util.List.of()), version);
            Events.say(tx, "site", site.id());
            Journal.append(tx, call.by(), "site-set", "site", site.id(), site.name());
        });
        Sites.Site now = db.inTransaction(tx -> Sites.byId(tx, site.id())).orElseThrow();
        return Answer.ok(render(now), now.version());
    }

    private static Map<String, Cidr> networks(Map<String, String> texts) {
        Map<String, Cidr> networks = new LinkedHashMap<>();
        texts.forEach((label, text) -> networks.put(
                Fields.name("networks", label),
                Fields.parse("networks." + Fields.name("networks", label), text, Cidr::parse)));
        return networks;
    }

    private Answer add(Call call) {
        OfficeApi.AddSite request = call.body(OfficeApi.AddSite.class);
        String name = Fields.name("name", request.name());
        Map<String, Cidr> networks = networks(request.networks().orElse(Map.of()));
        Fields.range("networks", networks.size(), 0, MAX_NETWORKS);
        String title = Fields.optionalTitle("title", request.title());
        Sites.Site site = new Sites.Site(
                Ids.next(),
                name,
                title.isEmpty() ? name : title,
                request.domain().map(d -> Fields.name("domain", d)).orElse("company"),
                zone(request.timeZone().orElse("UTC")),
                networks,
                1);
        db.run(tx -> {
            Sites.insert(tx, site);
            Events.say(tx, "site", site.id());
            Journal.append(tx, call.by(), "site-added", "site", site.id(), site.name());
        });
        return Answer.created(render(site));
    }

    private static String zone(String text) {
        try {
            return ZoneId.of(text).getId();
        } catch (DateTimeException e) {
            throw new ApiFailure(ProblemCode.MALFORMED, "timeZone is not a time zone such as Europe/Oslo", "timeZone");
        }
    }

    private static OfficeApi.Site render(Sites.Site s) {
        Map<String, String> networks = new LinkedHashMap<>();
        s.networks().forEach((name, network) -> networks.put(name, network.toString()));
        return new OfficeApi.Site(
                s.id().toString(), s.name(), s.title(), s.domain(), s.timeZone(), networks, s.version());
    }
}
