package tender.service.expiry;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import tender.api.ExpiryApi;
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

/** All that expires, on one axis: people's credentials, listeners' certificates and revocation lists, authorities. */
public final class ExpiryRoutes implements Routes {
    private static final int MOST = 500;
    private static final int DAYS = 400;
    private static final Duration SOON = Duration.ofDays(30);

    private final Db db;
    private final OfficeRecords records;

    public ExpiryRoutes(Db db, OfficeRecords records) {
        this.db = db;
        this.records = records;
    }

    @Override
    public List<Route> routes() {
        return List.of(Route.page(
                "/expiries",
                Role.READERS,
                "What expires and when, soonest first: credentials with who has to be told, listeners, authorities; ?days= ahead, 400 if left out",
                ExpiryApi.Expiry.class,
                this::expiries));
    }

    private Answer expiries(Call call) {
        int days =
                call.query("days").map(d -> Fields.number("days", d, 1, 4_000)).orElse(DAYS);
        Instant now = call.now();
        Instant before = now.plus(Duration.ofDays(days));
        List<ExpiryApi.Expiry> out = new ArrayList<>();
        db.inTransaction(tx -> Credentials.ending(tx, before, MOST))
                .forEach(c -> out.add(new ExpiryApi.Expiry(
                        "profile",
                        "profile/" + c.label(),
                        c.label(),
                        Optional.of(c.gateway()),
                        c.person(),
                        c.mail(),
                        Optional.of(c.madeAt()),
                        c.ends(),
                        state(c.ends(), now))));
        for (Office.Gateway g : records.withoutProfiles(now).gateways().values()) {
            for (Listener l : g.device().listeners()) {
                add(out, "listener", Attribute.CERTIFICATE_EXPIRES, g, l, before, now);
                add(out, "revocation-list", Attribute.REVOCATION_LIST_EXPIRES, g, l, before, now);
            }
        }
        db.inTransaction(Authorities::all).stream()
                .filter(a -> a.ends().isBefore(before))
                .forEach(a -> out.add(new ExpiryApi.Expiry(
                        "authority",
                        "authority/" + a.id(),
                        a.name(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.of(a.madeAt()),
                        a.ends(),
                        state(a.ends(), now))));
        out.sort(Comparator.comparing(ExpiryApi.Expiry::expiresAt));
        return Answer.ok(new Page<>(out.size() > MOST ? out.subList(0, MOST) : out, Optional.empty()));
    }

    private static void add(
            List<ExpiryApi.Expiry> out,
            String kind,
            Attribute attribute,
            Office.Gateway g,
            Listener l,
            Instant before,
            Instant now) {
        l.instant(attribute)
                .filter(ends -> ends.isBefore(before))
                .ifPresent(ends -> out.add(new ExpiryApi.Expiry(
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

    private static String state(Instant expiresAt, Instant now) {
        return expiresAt.isBefore(now) ? "expired" : expiresAt.isBefore(now.plus(SOON)) ? "soon" : "ok";
    }
}
