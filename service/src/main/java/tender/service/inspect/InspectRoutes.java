package tender.service.inspect;

import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
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
import tender.service.http.Routes;

/** Looks into files that are sent along; nothing of them is kept, and the journal does not speak of them. */
public final class InspectRoutes implements Routes {
    private static final int MAX_NAME = 200;
    private static final int MAX_FILES = 200;

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
        Map<String, byte[]> files = files(request.files());
        return Answer.ok(InspectApi.Report.of(
                oneByOne.run(call.caller(), () -> Inspector.all(files, Map.of(), call.now(), request.passphrase()))));
    }

    /**
     * Files that came with a call: contents by name or path, in the order in which they came.
     *
     * @throws ApiFailure where a content is no base64, or two files have one name
     */
    public static Map<String, byte[]> files(List<InspectApi.File> sent) {
        List<InspectApi.File> given = Fields.given("files", sent);
        Fields.range("files", given.size(), 1, MAX_FILES);
        Map<String, byte[]> files = new LinkedHashMap<>();
        for (int i = 0; i < given.size(); i++) {
            String at = "files[" + i + "]";
            String name = Fields.required(at + ".name", given.get(i).name());
            Fields.range(at + ".name", name.length(), 1, MAX_NAME);
            String shown = name.replaceAll("\\p{Cntrl}", " ");
            if (files.put(shown, content(at + ".content", given.get(i))) != null) {
                throw new ApiFailure(ProblemCode.MALFORMED, "two files have the name " + shown, at + ".name");
            }
        }
        return files;
    }

    private static byte[] content(String field, InspectApi.File file) {
        try {
            return Base64.getDecoder().decode(Fields.given(field, file.content()));
        } catch (IllegalArgumentException e) {
            throw new ApiFailure(ProblemCode.MALFORMED, "the content is not base64", field);
        }
    }
}
