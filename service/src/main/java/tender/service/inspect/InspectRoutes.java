package tender.service.inspect;

import java.util.Base64;
import java.util.List;
import tender.api.InspectApi;
import tender.api.ProblemCode;
import tender.core.inspect.Inspector;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;

/** Looks into a file that is sent along; nothing of it is kept, and the journal does not speak of it. */
public final class InspectRoutes {
    private static final int MAX_NAME = 200;

    private InspectRoutes() {}

    public static List<Route> routes() {
        return List.of(Route.post(
                "/inspections",
                Role.READERS,
                "Look into a file: what it is, where it leads, what is wrong; nothing is kept",
                InspectApi.Look.class,
                InspectApi.Report.class,
                InspectRoutes::look));
    }

    private static Answer look(Call call) {
        InspectApi.Look request = call.body(InspectApi.Look.class);
        String name = Fields.required("name", request.name());
        Fields.range("name", name.length(), 1, MAX_NAME);
        return Answer.ok(InspectApi.Report.of(
                Inspector.of(name.replaceAll("\\p{Cntrl}", " "), content(request), call.now(), request.passphrase())));
    }

    private static byte[] content(InspectApi.Look request) {
        try {
            return Base64.getDecoder().decode(Fields.given("content", request.content()));
        } catch (IllegalArgumentException e) {
            throw new ApiFailure(ProblemCode.MALFORMED, "the content is not base64", "content");
        }
    }
}
