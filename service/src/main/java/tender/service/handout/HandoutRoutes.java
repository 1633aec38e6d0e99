package tender.service.handout;

import java.net.URI;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Supplier;
import tender.api.HandoutApi;
import tender.api.ProblemCode;
import tender.core.certificate.KeyStoreFile;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.handout.Fitness;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.profile.AskedFor;
import tender.service.profile.ProfileFiles;
import tender.service.profile.Sheets;
import tender.store.event.Events;
import tender.store.handout.Handouts;
import tender.store.jdbc.Db;
import tender.store.journal.Journal;
import tender.store.profile.ProfileOrigin;
import tender.store.profile.Profiles;

/** Preparing what a person collects: a link for a set time, and a passphrase that goes another way. */
final class HandoutRoutes implements Routes {
    private static final int DEFAULT_HOURS = 72;
    private static final int MAX_HOURS = 24 * 30;
    private static final int MAX_COLLECTIONS = 10;
    private static final int MAX_MANY = 500;

    private final Db db;
    private final FitGate gate;
    private final Preparing preparing;
    private final Supplier<URI> staffUrl;

    HandoutRoutes(Db db, ProfileFiles files, Sheets sheets, FitGate gate, Supplier<URI> staffUrl) {
        SecureRandom random = new SecureRandom();
        this.db = db;
        this.gate = gate;
        this.preparing = new Preparing(db, files, new Contents(sheets, random), gate, random);
        this.staffUrl = staffUrl;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                                "/handouts",
                                Role.READERS,
                                "Handouts, newest first; " + AskedFor.WORDS,
                                HandoutApi.Handout.class,
                                call -> Cursor.newestFirst(
                                        call,
                                        Handouts.SORTS,
                                        slice -> db.inTransaction(tx -> Handouts.page(tx, AskedFor.of(call), slice)),
                                        Handouts.Handout::id,
                                        all -> all.stream()
                                                .map(HandoutRoutes::render)
                                                .toList()))
                        .sortedBy(Handouts.SORTS.keySet()),
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
                                this::prepare)
                        .afresh(),
                Route.post(
                                "/handouts/many",
                                Role.WRITERS,
                                "Prepare handouts of many profiles; those that are not fit are listed with their reasons",
                                HandoutApi.PrepareMany.class,
                                HandoutApi.PreparedMany.class,
                                this::prepareMany)
                        .afresh(),
                Route.get(
                        "/profiles/{id}/fitness",
                        Role.READERS,
                        "What speaks against handing out a profile's newest revision; no reason means that it is fit",
                        HandoutApi.Unfit.class,
                        this::fitness),
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
                h.state().word(),
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

    private static Preparing.Terms terms(
            Optional<Integer> hours, Optional<Integer> collections, Optional<Boolean> legacy) {
        return new Preparing.Terms(
                Duration.ofHours(Fields.range("hours", hours.orElse(DEFAULT_HOURS), 1, MAX_HOURS)),
                Fields.range("collections", collections.orElse(1), 1, MAX_COLLECTIONS),
                legacy.orElse(false) ? KeyStoreFile.Form.LEGACY : KeyStoreFile.Form.MODERN);
    }

    private HandoutApi.Prepared render(Preparing.Made made) {
        Secret link = Secret.of(staffUrl.get() + "/#" + made.token().revealText(RevealSecret.TO_HAND_OUT));
        return new HandoutApi.Prepared(render(find(made.id())), link, made.passphrase());
    }

    private Answer prepare(Call call) {
        HandoutApi.Prepare request = call.body(HandoutApi.Prepare.class);
        Preparing.Terms terms = terms(request.hours(), request.collections(), request.legacy());
        Profiles.Profile p = profile(Fields.required("profile", request.profile()));
        Optional<String> override = request.override().map(why -> Fields.title("override", why));
        return Answer.created(render(preparing.one(p.id(), request.revision(), override, terms, call.by())));
    }

    private Profiles.Profile profile(String label) {
        return db.inTransaction(tx -> Profiles.byLabel(tx, label))
                .filter(p -> p.origin() != ProfileOrigin.CANARY)
                .orElseThrow(() -> ApiFailure.notFound("profile"));
    }

    private Answer fitness(Call call) {
        return Answer.ok(new HandoutApi.Unfit(
                db.inTransaction(tx -> Profiles.byId(tx, call.id()))
                        .orElseThrow(() -> ApiFailure.notFound("profile"))
                        .label(),
                reasons(gate.round(call.now())
                        .judge(call.id(), Optional.empty())
                        .reasons())));
    }

    private static List<HandoutApi.Reason> reasons(List<Fitness.Reason> reasons) {
        return reasons.stream()
                .map(r -> new HandoutApi.Reason(
                        r.unfit().code(),
                        r.unfit().words(),
                        r.detail(),
                        r.unfit().fix()))
                .toList();
    }

    private Answer prepareMany(Call call) {
        HandoutApi.PrepareMany request = call.body(HandoutApi.PrepareMany.class);
        Preparing.Terms terms = terms(request.hours(), request.collections(), request.legacy());
        List<String> labels = request.profiles().orElse(List.of());
        if (labels.isEmpty() && request.gateway().isEmpty() && request.team().isEmpty()) {
            throw new ApiFailure(ProblemCode.MALFORMED, "name profiles, a gateway or a team", "profiles");
        }
        List<UUID> ids = labels.isEmpty()
                ? db.inTransaction(tx -> Profiles.notHandedOut(tx, request.gateway(), request.team(), MAX_MANY + 1))
                : labels.stream().map(l -> profile(l).id()).toList();
        Fields.range("profiles", ids.size(), 0, MAX_MANY);
        Preparing.Many many = preparing.many(ids, terms, request.dryRun().orElse(false), call.by());
        return Answer.ok(new HandoutApi.PreparedMany(
                many.made().stream().map(this::render).toList(),
                many.fit().stream().map(j -> j.file().profile().label()).toList(),
                many.unfit().stream()
                        .map(j -> new HandoutApi.Unfit(j.file().profile().label(), reasons(j.reasons())))
                        .toList()));
    }

    private Answer sent(Call call) {
        find(call.id());
        db.run(tx -> {
            Handouts.sent(tx, call.id(), call.now());
            Events.say(tx, "handout", call.id());
            Journal.append(
                    tx, call.by(), "handout-sent", "handout", call.id(), "link and passphrase kept, on two ways");
        });
        return answer(call.id());
    }

    private Answer endLinks(Call call) {
        String label =
                Fields.required("profile", call.body(HandoutApi.EndLinks.class).profile());
        int ended = db.inTransaction(tx -> {
            Profiles.Profile p = Profiles.byLabel(tx, label).orElseThrow(() -> ApiFailure.notFound("profile"));
            int links = Handouts.withdrawOf(tx, p.id(), call.now());
            Events.say(tx, "handout", p.id());
            Journal.append(tx, call.by(), "links-ended", "profile", p.id(), links + " links");
            return links;
        });
        return Answer.ok(new HandoutApi.LinksEnded(ended));
    }

    private Answer withdraw(Call call) {
        find(call.id());
        db.run(tx -> {
            Handouts.withdraw(tx, call.id(), call.now());
            Events.say(tx, "handout", call.id());
            Journal.append(tx, call.by(), "handout-withdrawn", "handout", call.id(), "");
        });
        return answer(call.id());
    }
}
