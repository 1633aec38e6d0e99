package tender.service.collect;

import io.javalin.Javalin;
import io.javalin.http.Context;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.util.Optional;
import tender.api.HandoutApi;
import tender.core.credential.Secret;
import tender.core.language.StaffTexts;
import tender.core.wire.Fields;
import tender.core.wire.Html;
import tender.service.http.ApiFailure;
import tender.service.http.Costly;
import tender.service.http.Headers;
import tender.service.http.Json;
import tender.service.http.Listening;
import tender.service.http.Pages;
import tender.service.http.Problems;
import tender.service.http.Source;
import tender.service.provision.DeviceRoutes;
import tender.service.settings.Settings;
import tender.store.handout.ParcelContent;
import tender.store.handout.Pickups;
import tender.store.jdbc.Db;

/**
 * The page where staff collect, on a listener of its own. The link's token stands after the # and never reaches a server
 * but in the POST that collects; opening the page, however often and by whatever scanner, changes nothing.
 */
public final class StaffPage implements AutoCloseable {
    private final Db db;
    private final Clock clock;
    private final Source source;
    private final Costly costly = new Costly();
    private final Collecting collecting;
    private final DeviceRoutes devices;
    private final Javalin web;

    private StaffPage(Db db, Clock clock, Settings settings, Runnable collected) {
        this.db = db;
        this.clock = clock;
        this.source = new Source(settings.trustedProxy());
        this.collecting = new Collecting(db, collected);
        this.devices = new DeviceRoutes(db, clock, source, costly);
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
            config.routes.get("/", StaffPage::page);
            config.routes.get("/assets/{file}", context -> Pages.send(context, "/assets/" + context.pathParam("file")));
            config.routes.post("/collect", this::collect);
            config.routes.get("/revocations/{name}", this::list);
            devices.add(config);
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

    /** The page in the browser's language, its texts inside. */
    private static void page(Context context) {
        StaffTexts texts = texts(context);
        Pages.send(
                context,
                "/collect.html",
                html -> html.replace("{language}", texts.language())
                        .replace("{title}", Html.escaped(texts.get("page.title")))
                        .replace("{needs-javascript}", Html.escaped(texts.get("page.needs-javascript")))
                        .replace(
                                "{texts}",
                                new String(Json.write(texts.under("page.")), StandardCharsets.UTF_8)
                                        .replace("<", "\\u003c")));
        context.header("Vary", "Accept-Language").header("Content-Language", texts.language());
    }

    private static StaffTexts texts(Context context) {
        return StaffTexts.preferred(Optional.ofNullable(context.header("Accept-Language")));
    }

    private void collect(Context context) {
        Instant now = clock.instant();
        String from = Source.counted(source.of(context));
        HandoutApi.Collect request = Json.read(context.bodyAsBytes(), HandoutApi.Collect.class);
        Secret token = Fields.given("token", request.token());
        Secret passphrase = Fields.given("passphrase", request.passphrase());
        context.contentType("application/json")
                .result(Json.write(render(
                        costly.run(from, () -> collecting.open(token, passphrase, from, now)),
                        texts(context).language())));
    }

    private static HandoutApi.Collected render(ParcelContent all, String preferred) {
        ParcelContent p = all.in(preferred);
        return new HandoutApi.Collected(
                p.title(),
                p.fileName(),
                p.file(),
                p.qr(),
                p.parts().stream()
                        .map(part -> new HandoutApi.Part(part.name(), part.content()))
                        .toList(),
                p.steps(),
                p.language().orElse(StaffTexts.ENGLISH.language()));
    }

    /** The list of revoked certificates of an authority, {@code NAME.crl}, for anyone (RFC 2585 §4). */
    private void list(Context context) {
        String name = context.pathParam("name");
        byte[] list = db.inTransaction(tx -> Pickups.revocations(tx, name.replaceFirst("\\.crl$", "")))
                .orElseThrow(() -> ApiFailure.notFound("list"));
        context.contentType("application/pkix-crl").result(list);
    }

    @Override
    public void close() {
        devices.close();
        web.stop();
    }
}
