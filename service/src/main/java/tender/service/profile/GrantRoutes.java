package tender.service.profile;

import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.api.GrantApi;
import tender.api.Page;
import tender.api.ProblemCode;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.person.People;
import tender.store.profile.Grants;
import tender.store.profile.Profiles;

/** Rules for teams at listeners. */
final class GrantRoutes implements Routes {
    private static final int MAX_DAYS = 3_650;

    private final Db db;
    private final Gateways gateways;
    private final Renewing renewing;

    GrantRoutes(Db db, Gateways gateways, Renewing renewing) {
        this.db = db;
        this.gateways = gateways;
        this.renewing = renewing;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/grants",
                        Role.READERS,
                        "What teams get at listeners where it differs from everyone else",
                        GrantApi.Grant.class,
                        call -> Answer.ok(new Page<>(
                                db.inTransaction(Grants::all).stream()
                                        .map(this::render)
                                        .toList(),
                                Optional.empty()))),
                Route.post(
                        "/grants",
                        Role.WRITERS,
                        "Set what a team gets at a listener; its profiles take it up when they are renewed",
                        GrantApi.Put.class,
                        GrantApi.Grant.class,
                        this::put),
                Route.delete(
                        "/grants/{id}", Role.WRITERS, "Let a team get at a listener what everyone gets", this::drop));
    }

    private GrantApi.Grant render(Grants.Grant v) {
        return render(
                v,
                renewing.behind(v.listenerId(), v.team()).stream()
                        .map(Profiles.Profile::label)
                        .toList());
    }

    private static GrantApi.Grant render(Grants.Grant v, List<String> behind) {
        return new GrantApi.Grant(
                v.id().toString(),
                v.gateway(),
                v.listener(),
                v.team(),
                v.fullTunnel(),
                v.reach().stream().map(Cidr::toString).toList(),
                v.dns().stream().map(IpAddress::toString).toList(),
                v.validDays(),
                behind,
                v.setAt());
    }

    private Answer put(Call call) {
        GrantApi.Put asked = call.body(GrantApi.Put.class);
        Grants.Grant wanted = db.inTransaction(tx -> wanted(tx, asked, call));
        if (asked.dryRun().orElse(false)) {
            return Answer.ok(render(wanted, List.of()));
        }
        db.run(tx -> {
            Grants.put(tx, wanted);
            Events.say(tx, "grant", wanted.listenerId());
            Journal.append(
                    tx,
                    call.by(),
                    "grant-set",
                    "listener",
                    wanted.listenerId(),
                    wanted.team() + " at " + wanted.gateway() + " " + wanted.listener());
        });
        if (asked.renew().orElse(false)) {
            for (Profiles.Profile p : renewing.behind(wanted.listenerId(), wanted.team())) {
                renewing.renew(p.id(), RenewOrder.AS_IT_IS, call.by());
            }
        }
        return Answer.ok(db.inTransaction(Grants::all).stream()
                .filter(v ->
                        v.listenerId().equals(wanted.listenerId()) && v.team().equals(wanted.team()))
                .findFirst()
                .map(this::render)
                .orElseThrow());
    }

    private Grants.Grant wanted(Tx tx, GrantApi.Put asked, Call call) {
        Listeners.Listener listener = listener(tx, asked);
        String team = Fields.required("team", asked.team());
        if (People.ofTeam(tx, team).isEmpty()) {
            throw new ApiFailure(ProblemCode.NOT_FOUND, "nobody is in a team " + team, "team");
        }
        List<Cidr> reach = ProfileRoutes.each("reach", asked.reach().orElse(List.of()), Cidr::parse);
        List<IpAddress> dns = ProfileRoutes.each("dns", asked.dns().orElse(List.of()), IpAddress::parse);
        boolean full = asked.fullTunnel().orElse(false);
        asked.validDays().ifPresent(days -> Fields.range("validDays", days, 1, MAX_DAYS));
        if (full && !reach.isEmpty()) {
            throw new MalformedException("grant", "reach", "a full tunnel reaches everything; say one of the two");
        }
        if (!full && reach.isEmpty() && dns.isEmpty() && asked.validDays().isEmpty()) {
            throw new MalformedException("grant", "reach", "say what differs: reach, fullTunnel, dns or validDays");
        }
        return new Grants.Grant(
                Ids.next(),
                listener.id(),
                listener.gateway(),
                listener.name(),
                team,
                full,
                reach,
                dns,
                asked.validDays(),
                call.now());
    }

    private Listeners.Listener listener(Tx tx, GrantApi.Put asked) {
        Gateways.Gateway gateway = gateways.byName(tx, Fields.required("gateway", asked.gateway()))
                .orElseThrow(() -> new ApiFailure(ProblemCode.NOT_FOUND, "there is no such gateway", "gateway"));
        return Issuing.listener(tx, gateway, asked.listener());
    }

    private Answer drop(Call call) {
        db.run(tx -> {
            UUID id = call.id();
            Grants.Grant v = Grants.byId(tx, id).orElseThrow(() -> ApiFailure.notFound("grant"));
            Grants.drop(tx, id);
            Events.say(tx, "grant", v.listenerId());
            Journal.append(
                    tx,
                    call.by(),
                    "grant-removed",
                    "listener",
                    v.listenerId(),
                    v.team() + " at " + v.gateway() + " " + v.listener());
        });
        return Answer.done();
    }
}
