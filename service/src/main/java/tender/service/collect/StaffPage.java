package tender.service.collect;

import io.javalin.Javalin;
import io.javalin.http.Context;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import tender.api.HandoutApi;
import tender.api.ProblemCode;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.handout.LinkToken;
import tender.core.handout.Parcel;
import tender.core.wire.Fields;
import tender.service.http.ApiFailure;
import tender.service.http.Headers;
import tender.service.http.Json;
import tender.service.http.Pages;
import tender.service.http.Problems;
import tender.service.http.Source;
import tender.service.http.Tls;
import tender.service.settings.Settings;
import tender.store.certificate.Authorities;
import tender.store.event.Events;
import tender.store.handout.Pickups;
import tender.store.jdbc.Db;
import tender.store.journal.Journal;
import tender.store.operator.Attempts;

/**
 * The page where staff collect, on a listener of its own. The link's token stands after the # and never reaches a server
 * but in the POST that collects; opening the page, however often and by whatever scanner, changes nothing.
 */
public final class StaffPage implements AutoCloseable {
    static final Duration WINDOW = Duration.ofMinutes(10);
    static final int MAX_PER_SOURCE = 20;
    static final int MAX_PER_LINK_AND_SOURCE = 8;
    private static final int MAX_BODY = 4_096;

    private final Db db;
    private final Clock clock;
    private final Source source;
    private final Javalin web;

    private StaffPage(Db db, Clock clock, Settings settings) {
        this.db = db;
        this.clock = clock;
        this.source = new Source(settings.trustedProxy());
        boolean https = settings.tls().isPresent()
                || settings.staff()
                        .baseUrl()
                        .filter(u -> "https".equals(u.getScheme()))
                        .isPresent();
        this.web = Javalin.create(config -> {
            config.startup.showJavalinBanner = false;
            config.startup.showOldJavalinVersionWarning = false;
            config.http.maxRequestSize = MAX_BODY;
            Tls.listen(config, settings.staff(), settings.tls());
            config.routes.before(context -> Headers.put(context, https));
            config.routes.get("/", context -> Pages.send(context, "/collect.html"));
            config.routes.get("/assets/{file}", context -> Pages.send(context, "/assets/" + context.pathParam("file")));
            config.routes.post("/collect", this::collect);
            config.routes.get("/revocations/{name}", this::list);
            config.routes.exception(Exception.class, Problems::answer);
        });
    }

    public static StaffPage start(Db db, Clock clock, Settings settings) {
        StaffPage page = new StaffPage(db, clock, settings);
        page.web.start();
        return page;
    }

    public int port() {
        return web.port();
    }

    private void collect(Context context) {
        Instant now = clock.instant();
        String from = source.of(context);
        HandoutApi.Collect request = Json.read(context.bodyAsBytes(), HandoutApi.Collect.class);
        Secret token = Fields.given("token", request.token());
        Secret passphrase = Fields.given("passphrase", request.passphrase());
        String digest = LinkToken.digest(token);
        String linkAndSource = "link:" + digest.substring(0, 32) + ":" + from;
        limit("collect:" + from, MAX_PER_SOURCE, now, context);
        limit(linkAndSource, MAX_PER_LINK_AND_SOURCE, now, context);
        Optional<Pickups.Pickup> pickup = db.inTransaction(tx -> Pickups.find(tx, digest, now));
        Optional<byte[]> opened = pickup.flatMap(
                p -> new Parcel(p.salt(), p.parcel()).open(token, passphrase.revealText(RevealSecret.TO_HAND_OUT)));
        boolean counted = opened.isPresent()
                && db.inTransaction(tx -> {
                    boolean ok = Pickups.collect(tx, pickup.get().handoutId(), from, now);
                    if (ok) {
                        Events.say(tx, "handout", pickup.get().handoutId().toString());
                        Journal.append(
                                tx,
                                now,
                                "link",
                                "handout-collected",
                                "handout",
                                pickup.get().handoutId().toString(),
                                "");
                    }
                    return ok;
                });
        if (!counted) {
            db.run(tx -> {
                Attempts.add(tx, "collect:" + from, now);
                Attempts.add(tx, linkAndSource, now);
            });
            throw new ApiFailure(
                    ProblemCode.LINK_OPENS_NOTHING, "the passphrase is mistyped, or the link was used up or has ended");
        }
        context.contentType("application/json").result(opened.get());
    }

    /** The list of revoked certificates of an authority, {@code NAME.crl}, for anyone (RFC 2585 §4). */
    private void list(Context context) {
        String name = context.pathParam("name");
        byte[] list = db.inTransaction(tx -> Authorities.byName(tx, name.replaceFirst("\\.crl$", "")))
                .map(Authorities.Authority::list)
                .orElseThrow(() -> ApiFailure.notFound("list"));
        context.contentType("application/pkix-crl").result(list);
    }

    /** Counts failures only, so that a rightful person elsewhere is never locked out by a guesser. */
    private void limit(String subject, int most, Instant now, Context context) {
        if (db.inTransaction(tx -> Attempts.since(tx, subject, now.minus(WINDOW))) >= most) {
            context.header("Retry-After", Long.toString(WINDOW.toSeconds()));
            throw new ApiFailure(ProblemCode.TOO_MANY, "too many wrong tries from here; wait ten minutes");
        }
    }

    @Override
    public void close() {
        web.stop();
    }
}
