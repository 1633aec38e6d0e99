package tender.service.removal;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.function.Function;
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
        List<Route> out = new ArrayList<>();
        add(
                out,
                "/people/{handle}",
                "a person with their devices",
                call -> tx -> removing.person(tx, call.path("handle")));
        add(
                out,
                "/people/{handle}/devices/{device}",
                "a device",
                call -> tx -> removing.device(tx, call.path("handle"), call.path("device")));
        add(out, "/teams/{name}", "a team", call -> tx -> removing.team(tx, call.path("name")));
        add(out, "/vantages/{name}", "a standing vantage", call -> tx -> removing.vantage(tx, call.path("name")));
        add(out, "/gateways/{id}", "a gateway", call -> tx -> removing.gateway(tx, call.id()));
        add(out, "/sites/{id}", "a site", call -> tx -> removing.site(tx, call.id()));
        add(
                out,
                "/device-descriptions/{name}",
                "a device description of the company's own",
                call -> tx -> removing.description(tx, call.path("name")));
        String operator = "/operators/{name}";
        Function<Call, Removing.Planner> leaving = call ->
                tx -> removing.operator(tx, call.path("name"), call.caller().operatorId());
        out.add(look(operator, Role.OWNERS, "an operator", leaving));
        out.add(remove(operator, Role.OWNERS, "an operator", leaving).afresh());
        return out;
    }

    private void add(List<Route> out, String path, String what, Function<Call, Removing.Planner> planner) {
        out.add(look(path, Role.READERS, what, planner));
        out.add(remove(path, Role.WRITERS, what, planner));
    }

    private Route look(String path, Set<Role> who, String what, Function<Call, Removing.Planner> planner) {
        return Route.get(
                path + "/removal",
                who,
                "What removing " + what + " would do, and what stands against it",
                RemovalApi.Preview.class,
                call -> {
                    Removing.Plan plan = removing.preview(planner.apply(call));
                    return Answer.ok(new RemovalApi.Preview(plan.what(), plan.effects(), plan.obstacles()));
                });
    }

    private Route remove(String path, Set<Role> who, String what, Function<Call, Removing.Planner> planner) {
        return Route.delete(path, who, "Remove " + what, call -> {
            removing.remove(planner.apply(call), call.by());
            return Answer.done();
        });
    }
}
