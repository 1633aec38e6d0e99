package tender.service.profile;

import java.util.List;
import java.util.UUID;
import tender.api.ProfileApi;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.store.jdbc.Db;
import tender.store.office.Gateways;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;
import tender.store.profile.Standings;

/** Profiles. */
public final class ProfileRoutes {
    private final Db db;
    private final Gateways gateways;
    private final Issuing issuing;
    private final Renewing renewing;

    public ProfileRoutes(Db db, Gateways gateways, Issuing issuing, Renewing renewing) {
        this.db = db;
        this.gateways = gateways;
        this.issuing = issuing;
        this.renewing = renewing;
    }

    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/profiles",
                        Role.READERS,
                        "Profiles by label; " + ProfileFilter.WORDS,
                        ProfileApi.Profile.class,
                        this::list),
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
                        call -> Answer.ok(ProfileView.render(renewing.renew(
                                call.id(),
                                call.bodyIfAny(ProfileApi.Renew.class).orElse(ProfileApi.Renew.AS_IT_IS),
                                call.caller().reference(),
                                call.now())))),
                Route.post(
                                "/profiles/{id}/instruction",
                                Role.WRITERS,
                                "What somebody has to do by hand at the gateway, with the text to paste, which may hold a secret",
                                null,
                                ProfileApi.HandWork.class,
                                call -> Answer.ok(issuing.handWork(
                                        call.id(), call.caller().reference(), call.now())))
                        .afresh(),
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
                (after, limit) -> db.inTransaction(tx -> Profiles.page(tx, filter, after, limit)),
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
        return answer(
                issuing.issue(call.body(ProfileApi.Issue.class), call.caller().reference(), call.now()));
    }

    private Answer issueMany(Call call) {
        Issuing.Many many = issuing.issueMany(
                call.body(ProfileApi.IssueMany.class), call.caller().reference(), call.now());
        return Answer.accepted(
                new ProfileApi.IssuedMany(many.issued(), many.job().map(UUID::toString), many.present()));
    }

    private Answer withdraw(Call call) {
        return answer(issuing.withdraw(call.id(), call.caller().reference(), call.now()));
    }

    private static Answer answer(Issuing.Outcome outcome) {
        return Answer.accepted(new ProfileApi.Issued(
                ProfileView.render(outcome.profile()), outcome.job().map(UUID::toString)));
    }
}
