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
import tender.service.http.OneByOne;
import tender.service.http.Role;
import tender.service.http.Route;

/** Looks into a file that is sent along; nothing of it is kept, and the journal does not speak of it. */
public final class InspectRoutes {
    private static final int MAX_NAME = 200;

    private final OneByOne oneByOne;

    public InspectRoutes(OneByOne oneByOne) {
        this.oneByOne = oneByOne;
    }

    public List<Route> routes() {
        return List.of(Route.post(
                "/inspections",
                Role.READERS,
                "Look into a file: what it is, where it leads, what is wrong; nothing is kept",
                InspectApi.Look.class,
                InspectApi.Report.class,
                this::look));
    }

    private Answer look(Call call) {
        InspectApi.Look request = call.body(InspectApi.Look.class);
        String name = Fields.required("name", request.name());
        Fields.range("name", name.length(), 1, MAX_NAME);
        byte[] content = content(request);
        return Answer.ok(InspectApi.Report.of(oneByOne.run(
                call.caller(),
                () -> Inspector.of(name.replaceAll("\\p{Cntrl}", " "), content, call.now(), request.passphrase()))));
    }

    private static byte[] content(InspectApi.Look request) {
        try {
            return Base64.getDecoder().decode(Fields.given("content", request.content()));
        } catch (IllegalArgumentException e) {
            throw new ApiFailure(ProblemCode.MALFORMED, "the content is not base64", "content");
        }
    }
}
