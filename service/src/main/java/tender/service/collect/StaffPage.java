package tender.service.collect;

import io.javalin.Javalin;
import io.javalin.http.Context;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.api.HandoutApi;
import tender.core.credential.Passphrase;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.handout.LinkToken;
import tender.core.handout.Parcel;
import tender.core.wire.Fields;
import tender.service.http.Costly;
import tender.service.http.Headers;
import tender.service.http.Json;
import tender.service.http.Listening;
import tender.service.http.Pages;
import tender.service.http.Problems;
import tender.service.http.Source;
import tender.service.refusal.Refused;
import tender.service.settings.Settings;
import tender.store.event.Events;
import tender.store.handout.ParcelContent;
import tender.store.handout.Pickups;
import tender.store.jdbc.Db;
import tender.store.operator.Attempts;

/**
 * The page where staff collect, on a listener of its own. The link's token stands after the # and never reaches a server
 * but in the POST that collects; opening the page, however often and by whatever scanner, changes nothing.
 */
public final class StaffPage implements AutoCloseable {
    static final Duration WINDOW = Duration.ofMinutes(10);
    static final int MAX_PER_SOURCE = 20;
    static final int MAX_PER_LINK_AND_SOURCE = 8;
    static final int MAX_PER_LINK = 200;
    private static final Duration DAY = Duration.ofDays(1);
    private static final Duration SLOW = Duration.ofMinutes(1);

    private final Db db;
    private final Clock clock;
    private final Source source;
    private final Costly costly = new Costly();
    /** Opened in place of a parcel that is not there, so that both take the same time. */
    private final Parcel nothing;

    private final Javalin web;

    private final Runnable collected;

    private StaffPage(Db db, Clock clock, Settings settings, Runnable collected) {
        this.collected = collected;
        this.db = db;
        this.clock = clock;
        this.source = new Source(settings.trustedProxy());
        SecureRandom random = new SecureRandom();
        this.nothing = Parcel.seal(new byte[1_024], LinkToken.generate(random), Passphrase.generate(random), random);
        boolean https = settings.tls().isPresent()
                || settings.staff()
                        .baseUrl()
                        .filter(u -> "https".equals(u.getScheme()))
                        .isPresent();
        this.web = Javalin.create(config -> {
            config.startup.showJavalinBanner = false;
            config.startup.showOldJavalinVersionWarning = false;
            Listening.staff(config, settings);
            config.routes.before(context -> Headers.put(context, https));
            config.routes.get("/", context -> Pages.send(context, "/collect.html"));
            config.routes.get("/assets/{file}", context -> Pages.send(context, "/assets/" + context.pathParam("file")));
            config.routes.post("/collect", this::collect);
            config.routes.get("/revocations/{name}", this::list);
            config.routes.exception(Exception.class, Problems::answer);
            config.routes.error(404, Problems::nothingHere);
            config.routes.error(405, Problems::nothingHere);
        });
    }

    /** @param collected called after each collection that counted */
    public static StaffPage start(Db db, Clock clock, Settings settings, Runnable collected) {
        StaffPage page = new StaffPage(db, clock, settings, collected);
        page.web.start();
        return page;
    }

    public int port() {
        return web.port();
    }

    private void collect(Context context) {
        Instant now = clock.instant();
        String from = Source.counted(source.of(context));
        HandoutApi.Collect request = Json.read(context.bodyAsBytes(), HandoutApi.Collect.class);
        Secret token = Fields.given("token", request.token());
        Secret passphrase = Fields.given("passphrase", request.passphrase());
        context.contentType("application/json")
                .result(Json.write(render(costly.run(from, () -> open(token, passphrase, from, now)))));
    }

    private static HandoutApi.Collected render(ParcelContent p) {
        return new HandoutApi.Collected(
                p.title(),
                p.fileName(),
                p.file(),
                p.qr(),
                p.parts().stream()
                        .map(part -> new HandoutApi.Part(part.name(), part.content()))
                        .toList(),
                p.steps());
    }

    /** Every try is counted before the work; live and dead links take the same time. */
    private ParcelContent open(Secret token, Secret passphrase, String from, Instant now) {
        String digest = LinkToken.digest(token);
        Optional<Pickups.Pickup> pickup = db.inTransaction(tx -> Pickups.find(tx, digest, now));
        UUID claim = claim(digest, pickup, from, now);
        Parcel parcel = pickup.map(p -> new Parcel(p.salt(), p.parcel())).orElse(nothing);
        Optional<byte[]> opened = parcel.open(token, passphrase.revealText(RevealSecret.TO_HAND_OUT));
        boolean counted = pickup.isPresent()
                && opened.isPresent()
                && db.inTransaction(tx -> {
                    boolean ok = Pickups.collect(tx, pickup.get().handoutId(), digest, from, now);
                    if (ok) {
                        Attempts.right(tx, claim);
                        Events.say(tx, "handout", pickup.get().handoutId().toString());
                    }
                    return ok;
                });
        if (!counted) {
            db.run(tx -> Pickups.tried(tx, pickup.map(Pickups.Pickup::handoutId), false, from, now));
            throw new Refused(
                    Refused.Kind.LINK_OPENS_NOTHING,
                    "the passphrase is mistyped, or the link was used up or has ended");
        }
        collected.run();
        return ParcelContent.DOCUMENT.read(new String(opened.get(), StandardCharsets.UTF_8));
    }

    /**
     * A guesser's tries at links that lead nowhere count for where they come from, and never against somebody beside them who
     * has a link; tries at a link count for link and source. Beyond so many in all, a link opens slowly and for everyone.
     */
    private UUID claim(String digest, Optional<Pickups.Pickup> pickup, String from, Instant now) {
        String link = "link:" + digest.substring(0, 32);
        List<Attempts.Limit> limits = pickup.isEmpty()
                ? List.of(new Attempts.Limit("collect:" + from, MAX_PER_SOURCE, WINDOW))
                : db.inTransaction(tx -> Attempts.since(tx, link, now.minus(DAY))) < MAX_PER_LINK
                        ? List.of(
                                new Attempts.Limit(link + ":" + from, MAX_PER_LINK_AND_SOURCE, WINDOW),
                                new Attempts.Limit(link, Integer.MAX_VALUE, DAY))
                        : List.of(
                                new Attempts.Limit(link + ":" + from, 1, SLOW),
                                new Attempts.Limit(link, Integer.MAX_VALUE, DAY));
        Attempts.Claimed claimed = db.inTransaction(tx -> Attempts.claim(tx, limits, now));
        claimed.exceeded().ifPresent(limit -> {
            db.run(tx -> {
                if (Attempts.isFirstRefusal(tx, limit, now)) {
                    Pickups.tried(tx, pickup.map(Pickups.Pickup::handoutId), true, from, now);
                }
            });
            throw Refused.retry(Refused.Kind.TOO_MANY, "too many wrong tries from here; wait a while", (int)
                    limit.within().toSeconds());
        });
        return claimed.claim();
    }

    /** The list of revoked certificates of an authority, {@code NAME.crl}, for anyone (RFC 2585 §4). */
    private void list(Context context) {
        String name = context.pathParam("name");
        byte[] list = db.inTransaction(tx -> Pickups.revocations(tx, name.replaceFirst("\\.crl$", "")))
                .orElseThrow(() -> Refused.notFound("list"));
        context.contentType("application/pkix-crl").result(list);
    }

    @Override
    public void close() {
        web.stop();
    }
}
