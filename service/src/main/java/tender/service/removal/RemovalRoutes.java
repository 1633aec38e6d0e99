package tender.service.removal;

import java.util.List;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;
import tender.api.RemovalApi;
import tender.service.device.DeviceModule;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.jdbc.Db;

/** {@code GET …/removal} tells what a removal would do; {@code DELETE} carries it out. */
public final class RemovalRoutes implements Routes {
    private final Removing removing;

    public RemovalRoutes(Db db, DeviceModule devices) {
        this.removing = new Removing(db, devices.gateways(), devices.descriptions());
    }

    @Override
    public List<Route> routes() {
        return Stream.of(
                        new Removable(
                                "/people/{handle}",
                                Role.WRITERS,
                                "a person with their devices",
                                call -> tx -> removing.person(tx, call.path("handle"))),
                        new Removable(
                                "/people/{handle}/devices/{device}",
                                Role.WRITERS,
                                "a device",
                                call -> tx -> removing.device(tx, call.path("handle"), call.path("device"))),
                        new Removable(
                                "/teams/{name}",
                                Role.WRITERS,
                                "a team",
                                call -> tx -> removing.team(tx, call.path("name"))),
                        new Removable(
                                "/vantages/{name}",
                                Role.WRITERS,
                                "a standing vantage",
                                call -> tx -> removing.vantage(tx, call.path("name"))),
                        new Removable(
                                "/gateways/{id}",
                                Role.WRITERS,
                                "a gateway",
                                call -> tx -> removing.gateway(tx, call.id())),
                        new Removable(
                                "/sites/{id}", Role.WRITERS, "a site", call -> tx -> removing.site(tx, call.id())),
                        new Removable(
                                "/device-descriptions/{name}",
                                Role.WRITERS,
                                "a device description of the company's own",
                                call -> tx -> removing.description(tx, call.path("name"))),
                        new Removable(
                                "/operators/{name}",
                                Role.OWNERS,
                                "an operator",
                                call -> tx -> removing.operator(
                                        tx, call.path("name"), call.caller().operatorId())))
                .flatMap(r -> Stream.of(preview(r), remove(r)))
                .toList();
    }

    /**
     * A kind of thing that can be removed.
     *
     * @param who may remove it; where that is owners alone, they prove anew who they are
     */
    private record Removable(String path, Set<Role> who, String what, Function<Call, Removing.Planner> planner) {
        boolean isForOwners() {
            return who.equals(Role.OWNERS);
        }
    }

    private Route preview(Removable r) {
        return Route.get(
                r.path() + "/removal",
                r.isForOwners() ? r.who() : Role.READERS,
                "What removing " + r.what() + " would do, and what stands against it",
                RemovalApi.Preview.class,
                call -> {
                    Removing.Plan plan = removing.preview(r.planner().apply(call));
                    return Answer.ok(new RemovalApi.Preview(plan.what(), plan.effects(), plan.obstacles()));
                });
    }

    private Route remove(Removable r) {
        Route route = Route.delete(r.path(), r.who(), "Remove " + r.what(), call -> {
            removing.remove(r.planner().apply(call), call.by());
            return Answer.done();
        });
        return r.isForOwners() ? route.afresh() : route;
    }
}
