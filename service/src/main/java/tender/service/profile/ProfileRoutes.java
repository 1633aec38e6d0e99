package tender.service.profile;

import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Function;
import java.util.stream.IntStream;
import tender.api.ProfileApi;
import tender.core.credential.TunnelKey;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.jdbc.Db;
import tender.store.office.Gateways;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;
import tender.store.profile.Standings;

/** Profiles. */
final class ProfileRoutes implements Routes {
    private static final int MAX_NETWORKS = 64;

    private final Db db;
    private final Gateways gateways;
    private final Issuing issuing;
    private final Renewing renewing;
    private final Withdrawing withdrawing;

    ProfileRoutes(Db db, Gateways gateways, Issuing issuing, Renewing renewing, Withdrawing withdrawing) {
        this.db = db;
        this.gateways = gateways;
        this.issuing = issuing;
        this.renewing = renewing;
        this.withdrawing = withdrawing;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                                "/profiles",
                                Role.READERS,
                                "Profiles by label; " + ProfileFilter.WORDS,
                                ProfileApi.Profile.class,
                                this::list)
                        .sortedBy(Standings.SORTS.keySet()),
                Route.get(
                        "/profiles/{id}",
                        Role.READERS,
                        "One profile with its revisions",
                        ProfileApi.Profile.class,
                        call -> answer(call.id())),
                Route.get(
                        "/profiles/labelled/{label}",
                        Role.READERS,
                        "A profile by its label",
                        ProfileApi.Profile.class,
                        call -> answer(db.inTransaction(tx -> Profiles.byLabel(tx, call.path("label")))
                                .orElseThrow(() -> ApiFailure.notFound("profile"))
                                .id())),
                Route.post(
                        "/profiles",
                        Role.WRITERS,
                        "Issue a profile: keys, address, peer on the gateway",
                        ProfileApi.Issue.class,
                        ProfileApi.Issued.class,
                        this::issue),
                Route.post(
                        "/profiles/many",
                        Role.WRITERS,
                        "Issue to every device of a team, or of everyone, that has no profile there yet; one write at the gateway",
                        ProfileApi.IssueMany.class,
                        ProfileApi.IssuedMany.class,
                        this::issueMany),
                Route.post(
                        "/profiles/{id}/renew",
                        Role.WRITERS,
                        "Make a new revision for the listener as it is now, or for one side by side with it",
                        ProfileApi.Renew.class,
                        ProfileApi.Profile.class,
                        this::renew),
                Route.post(
                        "/profiles/{id}/withdraw",
                        Role.WRITERS,
                        "End a profile: revoke, withdraw handouts, remove the peer",
                        null,
                        ProfileApi.Issued.class,
                        this::withdraw));
    }

    private Answer list(Call call) {
        Standings.Filter filter = db.inTransaction(tx -> ProfileFilter.of(tx, gateways, call));
        return Cursor.byName(
                call,
                Standings.SORTS,
                slice -> db.inTransaction(tx -> Profiles.page(tx, filter, slice)),
                Profiles.Profile::label,
                all -> all.stream().map(ProfileView::render).toList());
    }

    private Answer answer(UUID id) {
        return db.inTransaction(tx -> {
            Profiles.Profile p = Profiles.byId(tx, id).orElseThrow(() -> ApiFailure.notFound("profile"));
            return Answer.ok(ProfileView.render(p, Revisions.of(tx, id)), p.version());
        });
    }

    private Answer issue(Call call) {
        ProfileApi.Issue request = call.body(ProfileApi.Issue.class);
        IssueOrder order = order(request);
        return answer(
                request.dryRun().orElse(false)
                        ? new Outcome(issuing.rehearse(order, call.by()), Optional.empty())
                        : issuing.issue(order, call.by()));
    }

    private static IssueOrder order(ProfileApi.Issue request) {
        return new IssueOrder(
                Fields.required("person", request.person()),
                Fields.required("device", request.device()),
                Fields.required("gateway", request.gateway()),
                request.listener(),
                request.publicKey().map(text -> Fields.parse("publicKey", text, TunnelKey::parse)),
                new IssueOrder.Said(
                        request.fullTunnel(),
                        request.reach().filter(r -> !r.isEmpty()).map(r -> each("reach", r, Cidr::parse)),
                        each("dns", request.dns().orElse(List.of()), IpAddress::parse)),
                request.until(),
                new IssueOrder.Access(
                        request.address().map(a -> Fields.parse("address", a, IpAddress::parse)),
                        request.account(),
                        request.makeAccount().orElse(false),
                        request.authority(),
                        request.reason().map(String::strip).orElse("")));
    }

    /** @throws tender.core.wire.MalformedException where one of them is none, or there are too many */
    static <T> List<T> each(String field, List<String> texts, Function<String, T> parser) {
        Fields.range(field, texts.size(), 0, MAX_NETWORKS);
        return IntStream.range(0, texts.size())
                .mapToObj(i -> Fields.parse(field + "[" + i + "]", texts.get(i), parser))
                .toList();
    }

    private Answer issueMany(Call call) {
        ProfileApi.IssueMany request = call.body(ProfileApi.IssueMany.class);
        IssueManyOrder order = new IssueManyOrder(
                Fields.required("gateway", request.gateway()),
                request.listener(),
                request.team(),
                request.until(),
                request.makeAccounts().orElse(false));
        Issuing.Many many =
                request.dryRun().orElse(false) ? issuing.planMany(order) : issuing.issueMany(order, call.by());
        return Answer.accepted(
                new ProfileApi.IssuedMany(many.issued(), many.job().map(UUID::toString), many.present()));
    }

    private Answer renew(Call call) {
        RenewOrder order = call.bodyIfAny(ProfileApi.Renew.class)
                .map(r -> new RenewOrder(r.to(), r.until()))
                .orElse(RenewOrder.AS_IT_IS);
        return Answer.ok(ProfileView.render(renewing.renew(call.id(), order, call.by())));
    }

    private Answer withdraw(Call call) {
        return answer(withdrawing.withdraw(call.id(), call.by()));
    }

    private static Answer answer(Outcome outcome) {
        return Answer.accepted(new ProfileApi.Issued(
                ProfileView.render(outcome.profile()), outcome.job().map(UUID::toString)));
    }
}
