package tender.service.inspect;

import java.util.List;
import java.util.Map;
import tender.api.InspectApi;
import tender.core.inspect.Inspector;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.OneByOne;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;

/** Looks into files that are sent along; nothing of them is kept, and the journal does not speak of them. */
public final class InspectRoutes implements Routes {

    private final OneByOne oneByOne;

    public InspectRoutes(OneByOne oneByOne) {
        this.oneByOne = oneByOne;
    }

    @Override
    public List<Route> routes() {
        return List.of(Route.post(
                "/inspections",
                Role.READERS,
                "Look into files: what they are, where they lead, what is wrong; nothing is kept",
                InspectApi.Look.class,
                InspectApi.Report.class,
                this::look));
    }

    private Answer look(Call call) {
        InspectApi.Look request = call.body(InspectApi.Look.class);
        Map<String, byte[]> files = SentFiles.read(request.files());
        return Answer.ok(InspectApi.Report.of(
                oneByOne.run(call.caller(), () -> Inspector.all(files, Map.of(), call.now(), request.passphrase()))));
    }
}
