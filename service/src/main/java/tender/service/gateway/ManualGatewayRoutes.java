package tender.service.gateway;

import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import tender.api.OfficeApi;
import tender.core.office.Attribute;
import tender.core.wire.Fields;
import tender.service.device.DeviceDescriptions;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.jdbc.Db;
import tender.store.office.Gateways;

/** What people enter of gateways that they manage by hand. */
final class ManualGatewayRoutes implements Routes {
    private final Db db;
    private final Gateways gateways;
    private final ManualGateways manual;
    private final GatewayView view;

    ManualGatewayRoutes(Db db, Gateways gateways, ManualGateways manual, DeviceDescriptions descriptions) {
        this.db = db;
        this.gateways = gateways;
        this.manual = manual;
        this.view = new GatewayView(descriptions);
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.post(
                        "/gateways/{id}/listeners/{listener}",
                        Role.WRITERS,
                        "Enter what a listener of a gateway managed by hand is set to; a listener that is not known is added",
                        OfficeApi.EnterListener.class,
                        OfficeApi.Gateway.class,
                        this::enter),
                Route.delete(
                        "/gateways/{id}/listeners/{listener}",
                        Role.WRITERS,
                        "Remove a listener of a gateway managed by hand",
                        call -> {
                            manual.drop(call.id(), call.path("listener"), call.by());
                            return Answer.done();
                        }));
    }

    private Answer enter(Call call) {
        Map<Attribute, String> values = new EnumMap<>(Attribute.class);
        Fields.given("settings", call.body(OfficeApi.EnterListener.class).settings())
                .forEach((word, value) -> values.put(
                        Fields.parse("settings." + word, word, Attribute::parse), value == null ? "" : value));
        manual.enter(call.id(), call.path("listener"), values, call.by());
        return view.answer(db, gateways, call.id(), call.now());
    }
}
