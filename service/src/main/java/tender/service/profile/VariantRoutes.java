package tender.service.profile;

import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.api.Page;
import tender.api.ProblemCode;
import tender.api.VariantApi;
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
import tender.store.profile.Profiles;
import tender.store.profile.Variants;

/** Rules for teams at listeners. */
final class VariantRoutes implements Routes {
    private static final int MAX_DAYS = 3_650;

    private final Db db;
    private final Gateways gateways;
    private final Renewing renewing;

    VariantRoutes(Db db, Gateways gateways, Renewing renewing) {
        this.db = db;
        this.gateways = gateways;
        this.renewing = renewing;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/variants",
                        Role.READERS,
                        "What teams get at listeners where it differs from everyone else",
                        VariantApi.Variant.class,
                        call -> Answer.ok(new Page<>(
                                db.inTransaction(Variants::all).stream()
                                        .map(this::render)
                                        .toList(),
                                Optional.empty()))),
                Route.post(
                        "/variants",
                        Role.WRITERS,
                        "Set what a team gets at a listener; its profiles take it up when they are renewed",
                        VariantApi.Put.class,
                        VariantApi.Variant.class,
                        this::put),
                Route.delete(
                        "/variants/{id}", Role.WRITERS, "Let a team get at a listener what everyone gets", this::drop));
    }

    private VariantApi.Variant render(Variants.Variant v) {
        return render(
                v,
                renewing.behind(v.listenerId(), v.team()).stream()
                        .map(Profiles.Profile::label)
                        .toList());
    }

    private static VariantApi.Variant render(Variants.Variant v, List<String> behind) {
        return new VariantApi.Variant(
                v.id().toString(),
                v.gateway(),
                v.listener(),
                v.team(),
                v.fullTunnel(),
                v.reach().stream().map(Cidr::toString).toList(),
                v.dns().stream().map(IpAddress::toString).toList(),
                v.lifeDays(),
                behind,
                v.setAt());
    }

    private Answer put(Call call) {
        VariantApi.Put asked = call.body(VariantApi.Put.class);
        Variants.Variant wanted = db.inTransaction(tx -> wanted(tx, asked, call));
        if (asked.dryRun().orElse(false)) {
            return Answer.ok(render(wanted, List.of()));
        }
        db.run(tx -> {
            Variants.put(tx, wanted);
            Events.say(tx, "variant", wanted.listenerId());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "variant-set",
                    "listener",
                    wanted.listenerId(),
                    wanted.team() + " at " + wanted.gateway() + " " + wanted.listener());
        });
        if (asked.renew().orElse(false)) {
            for (Profiles.Profile p : renewing.behind(wanted.listenerId(), wanted.team())) {
                renewing.renew(p.id(), RenewOrder.AS_IT_IS, call.caller().reference(), call.now());
            }
        }
        return Answer.ok(db.inTransaction(Variants::all).stream()
                .filter(v ->
                        v.listenerId().equals(wanted.listenerId()) && v.team().equals(wanted.team()))
                .findFirst()
                .map(this::render)
                .orElseThrow());
    }

    private Variants.Variant wanted(Tx tx, VariantApi.Put asked, Call call) {
        Listeners.Listener listener = listener(tx, asked);
        String team = Fields.required("team", asked.team());
        if (People.ofTeam(tx, team).isEmpty()) {
            throw new ApiFailure(ProblemCode.NOT_FOUND, "nobody is in a team " + team, "team");
        }
        List<Cidr> reach = ProfileRoutes.each("reach", asked.reach().orElse(List.of()), Cidr::parse);
        List<IpAddress> dns = ProfileRoutes.each("dns", asked.dns().orElse(List.of()), IpAddress::parse);
        boolean full = asked.fullTunnel().orElse(false);
        asked.lifeDays().ifPresent(days -> Fields.range("lifeDays", days, 1, MAX_DAYS));
        if (full && !reach.isEmpty()) {
            throw new MalformedException("variant", "reach", "a full tunnel reaches everything; say one of the two");
        }
        if (!full && reach.isEmpty() && dns.isEmpty() && asked.lifeDays().isEmpty()) {
            throw new MalformedException("variant", "reach", "say what differs: reach, fullTunnel, dns or lifeDays");
        }
        return new Variants.Variant(
                Ids.next(),
                listener.id(),
                listener.gateway(),
                listener.name(),
                team,
                full,
                reach,
                dns,
                asked.lifeDays(),
                call.now());
    }

    private Listeners.Listener listener(Tx tx, VariantApi.Put asked) {
        Gateways.Gateway gateway = gateways.byName(tx, Fields.required("gateway", asked.gateway()))
                .orElseThrow(() -> new ApiFailure(ProblemCode.NOT_FOUND, "there is no such gateway", "gateway"));
        return Issuing.listener(tx, gateway, asked.listener());
    }

    private Answer drop(Call call) {
        db.run(tx -> {
            UUID id = call.id();
            Variants.Variant v = Variants.byId(tx, id).orElseThrow(() -> ApiFailure.notFound("variant"));
            Variants.drop(tx, id);
            Events.say(tx, "variant", v.listenerId());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "variant-dropped",
                    "listener",
                    v.listenerId(),
                    v.team() + " at " + v.gateway() + " " + v.listener());
        });
        return Answer.done();
    }
}
