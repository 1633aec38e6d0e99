package tender.service.life;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import tender.api.LifeApi;
import tender.api.Page;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.office.OfficeRecords;
import tender.store.certificate.Authorities;
import tender.store.credential.Credentials;
import tender.store.jdbc.Db;

/** All that ends, on one axis: people's credentials, listeners' certificates and lists of the revoked, authorities. */
public final class LifeRoutes implements Routes {
    private static final int MOST = 500;
    private static final int DAYS = 400;
    private static final Duration SOON = Duration.ofDays(30);

    private final Db db;
    private final OfficeRecords records;

    public LifeRoutes(Db db, OfficeRecords records) {
        this.db = db;
        this.records = records;
    }

    @Override
    public List<Route> routes() {
        return List.of(Route.page(
                "/lives",
                Role.READERS,
                "What ends and when, soonest first: credentials with who has to be told, listeners, authorities; ?days= ahead, 400 if left out",
                LifeApi.Life.class,
                this::lives));
    }

    private Answer lives(Call call) {
        int days =
                call.query("days").map(d -> Fields.number("days", d, 1, 4_000)).orElse(DAYS);
        Instant now = call.now();
        Instant before = now.plus(Duration.ofDays(days));
        List<LifeApi.Life> out = new ArrayList<>();
        db.inTransaction(tx -> Credentials.ending(tx, before, MOST))
                .forEach(c -> out.add(new LifeApi.Life(
                        "profile",
                        "profile/" + c.label(),
                        c.label(),
                        Optional.of(c.gateway()),
                        c.person(),
                        c.mail(),
                        Optional.of(c.madeAt()),
                        c.ends(),
                        state(c.ends(), now))));
        for (Office.Gateway g : records.withoutHoldings(now).gateways().values()) {
            for (Listener l : g.device().listeners()) {
                add(out, "listener", Attribute.CERTIFICATE_ENDS, g, l, before, now);
                add(out, "revocation-list", Attribute.REVOCATION_ENDS, g, l, before, now);
            }
        }
        db.inTransaction(Authorities::all).stream()
                .filter(a -> a.ends().isBefore(before))
                .forEach(a -> out.add(new LifeApi.Life(
                        "authority",
                        "authority/" + a.id(),
                        a.name(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.of(a.madeAt()),
                        a.ends(),
                        state(a.ends(), now))));
        out.sort(Comparator.comparing(LifeApi.Life::ends));
        return Answer.ok(new Page<>(out.size() > MOST ? out.subList(0, MOST) : out, Optional.empty()));
    }

    private static void add(
            List<LifeApi.Life> out,
            String kind,
            Attribute attribute,
            Office.Gateway g,
            Listener l,
            Instant before,
            Instant now) {
        l.instant(attribute)
                .filter(ends -> ends.isBefore(before))
                .ifPresent(ends -> out.add(new LifeApi.Life(
                        kind,
                        kind + "/" + g.id() + "/" + l.name(),
                        g.name() + " " + l.name(),
                        Optional.of(g.name()),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        ends,
                        state(ends, now))));
    }

    private static String state(Instant ends, Instant now) {
        return ends.isBefore(now) ? "ended" : ends.isBefore(now.plus(SOON)) ? "soon" : "well";
    }
}
