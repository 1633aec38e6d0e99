package tender.service.handout;

import java.net.URI;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.List;
import java.util.UUID;
import java.util.function.Supplier;
import tender.api.HandoutApi;
import tender.core.certificate.KeyStoreFile;
import tender.core.credential.Passphrase;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.handout.LinkToken;
import tender.core.handout.Parcel;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Json;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.profile.Issuing;
import tender.service.profile.Sheets;
import tender.store.event.Events;
import tender.store.handout.Handouts;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.journal.Journal;
import tender.store.person.People;
import tender.store.profile.Profiles;

/** Preparing what a person collects: a link for a set time, and a passphrase that goes another way. */
public final class HandoutRoutes {
    private static final int DEFAULT_HOURS = 72;
    private static final int MAX_HOURS = 24 * 30;
    private static final int MAX_COLLECTIONS = 10;

    private final Db db;
    private final Issuing issuing;
    private final Contents contents;
    private final Supplier<URI> staffUrl;
    private final SecureRandom random = new SecureRandom();

    public HandoutRoutes(Db db, Issuing issuing, Sheets sheets, Supplier<URI> staffUrl) {
        this.db = db;
        this.issuing = issuing;
        this.contents = new Contents(sheets, random);
        this.staffUrl = staffUrl;
    }

    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/handouts",
                        Role.READERS,
                        "Handouts, newest first; ?profile=ID for one profile's",
                        HandoutApi.Handout.class,
                        call -> Cursor.newestFirst(
                                call,
                                (before, limit) -> db.inTransaction(
                                        tx -> Handouts.page(tx, call.queryId("profile"), before, limit)),
                                Handouts.Handout::id,
                                all -> all.stream().map(HandoutRoutes::render).toList())),
                Route.get(
                        "/handouts/{id}",
                        Role.READERS,
                        "One handout",
                        HandoutApi.Handout.class,
                        call -> answer(call.id())),
                Route.post(
                        "/handouts",
                        Role.WRITERS,
                        "Prepare a handout of a profile's newest revision; link and passphrase are shown once",
                        HandoutApi.Prepare.class,
                        HandoutApi.Prepared.class,
                        this::prepare),
                Route.post(
                        "/handouts/{id}/sent",
                        Role.WRITERS,
                        "Note that link and passphrase are kept and on their ways",
                        null,
                        HandoutApi.Handout.class,
                        this::sent),
                Route.post(
                        "/handouts/{id}/withdraw",
                        Role.WRITERS,
                        "End the link at once",
                        null,
                        HandoutApi.Handout.class,
                        this::withdraw),
                Route.post(
                        "/handouts/withdraw",
                        Role.WRITERS,
                        "End all links of a profile at once",
                        HandoutApi.EndLinks.class,
                        HandoutApi.LinksEnded.class,
                        this::endLinks));
    }

    private static HandoutApi.Handout render(Handouts.Handout h) {
        return new HandoutApi.Handout(
                h.id().toString(),
                h.label(),
                h.person(),
                h.personName(),
                h.device(),
                h.gateway(),
                h.revision(),
                h.fileName(),
                h.digest(),
                h.state(),
                h.preparedAt(),
                h.sentAt(),
                h.collectedAt(),
                h.lastHeard(),
                h.expiresAt(),
                h.allowed(),
                h.left(),
                h.version());
    }

    private Handouts.Handout find(UUID id) {
        return db.inTransaction(tx -> Handouts.byId(tx, id)).orElseThrow(() -> ApiFailure.notFound("handout"));
    }

    private Answer answer(UUID id) {
        Handouts.Handout handout = find(id);
        return Answer.ok(render(handout), handout.version());
    }

    private Answer prepare(Call call) {
        HandoutApi.Prepare request = call.body(HandoutApi.Prepare.class);
        int hours = Fields.range("hours", request.hours().orElse(DEFAULT_HOURS), 1, MAX_HOURS);
        int collections = Fields.range("collections", request.collections().orElse(1), 1, MAX_COLLECTIONS);
        KeyStoreFile.Form form = request.legacy().orElse(false) ? KeyStoreFile.Form.LEGACY : KeyStoreFile.Form.MODERN;
        String label = Fields.required("profile", request.profile());
        UUID profileId = db.inTransaction(tx -> Profiles.byLabel(tx, label))
                .filter(p -> !p.origin().equals("canary"))
                .orElseThrow(() -> ApiFailure.notFound("profile"))
                .id();
        Issuing.Newest newest = issuing.newest(profileId);
        Secret token = LinkToken.generate(random);
        Secret passphrase = Passphrase.generate(random);
        Parcel parcel = Parcel.seal(Json.write(collected(newest, passphrase, form)), token, passphrase, random);
        UUID id = Ids.next();
        db.run(tx -> {
            Handouts.insert(
                    tx,
                    id,
                    profileId,
                    newest.revision().id(),
                    LinkToken.digest(token),
                    parcel.salt(),
                    parcel.sealed(),
                    call.now(),
                    call.now().plus(Duration.ofHours(hours)),
                    collections);
            Events.say(tx, "handout", id.toString());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "handout-prepared",
                    "handout",
                    id.toString(),
                    newest.profile().label() + ", revision " + newest.revision().number() + ", "
                            + newest.revision().digest());
        });
        Secret link = Secret.of(staffUrl.get() + "/#" + token.revealText(RevealSecret.TO_HAND_OUT));
        return Answer.created(new HandoutApi.Prepared(render(find(id)), link, passphrase));
    }

    private HandoutApi.Collected collected(Issuing.Newest newest, Secret passphrase, KeyStoreFile.Form form) {
        String kind = newest.profile()
                .deviceId()
                .flatMap(id -> db.inTransaction(tx -> People.device(tx, id)))
                .map(People.Device::kind)
                .orElse("laptop");
        return contents.of(newest, issuing.account(newest.profile()), kind, passphrase, form);
    }

    private Answer sent(Call call) {
        find(call.id());
        db.run(tx -> {
            Handouts.sent(tx, call.id(), call.now());
            Events.say(tx, "handout", call.id().toString());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "handout-sent",
                    "handout",
                    call.id().toString(),
                    "link and passphrase kept, on two ways");
        });
        return answer(call.id());
    }

    private Answer endLinks(Call call) {
        String label =
                Fields.required("profile", call.body(HandoutApi.EndLinks.class).profile());
        int ended = db.inTransaction(tx -> {
            Profiles.Profile p = Profiles.byLabel(tx, label).orElseThrow(() -> ApiFailure.notFound("profile"));
            int links = Handouts.withdrawOf(tx, p.id(), call.now());
            Events.say(tx, "handout", p.id().toString());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "links-ended",
                    "profile",
                    p.id().toString(),
                    links + " links");
            return links;
        });
        return Answer.ok(new HandoutApi.LinksEnded(ended));
    }

    private Answer withdraw(Call call) {
        find(call.id());
        db.run(tx -> {
            Handouts.withdraw(tx, call.id(), call.now());
            Events.say(tx, "handout", call.id().toString());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "handout-withdrawn",
                    "handout",
                    call.id().toString(),
                    "");
        });
        return answer(call.id());
    }
}
