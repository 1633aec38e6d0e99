package tender.service.gateway;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.core.device.DeviceDescription;
import tender.core.wire.Fields;
import tender.service.device.DeviceDescriptions;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobView;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.GivenFiles;

/** Files of gateways that nobody can reach, given to be read. */
final class GivenFilesRoutes implements Routes {
    private static final int MAX_DROPPED = 100;
    private static final int MOST_NAMED = 10;

    private final Db db;
    private final Gateways gateways;
    private final DeviceDescriptions descriptions;
    private final GivenFiles given;

    GivenFilesRoutes(Db db, Gateways gateways, DeviceDescriptions descriptions, GivenFiles given) {
        this.db = db;
        this.gateways = gateways;
        this.descriptions = descriptions;
        this.given = given;
    }

    @Override
    public List<Route> routes() {
        return List.of(Route.post(
                "/gateways/{id}/dropped",
                Role.WRITERS,
                "Drop files of a gateway that nobody can reach; it is then read",
                OfficeApi.DropFiles.class,
                WatchApi.Job.class,
                this::drop));
    }

    private Answer drop(Call call) {
        Gateways.Gateway g =
                db.inTransaction(tx -> gateways.byId(tx, call.id())).orElseThrow(() -> ApiFailure.notFound("gateway"));
        if (!g.connector().equals(AddingGateways.BY_FILES)) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT, g.name() + " is read over " + g.connector() + "; files are not dropped");
        }
        OfficeApi.DropFiles request = call.body(OfficeApi.DropFiles.class);
        Map<String, String> files = Fields.given("files", request.files());
        Instant taken = request.taken().orElse(call.now());
        if (taken.isAfter(call.now())) {
            throw new ApiFailure(ProblemCode.MALFORMED, "files cannot be taken in the future", "taken");
        }
        Fields.range("files", files.size(), 1, MAX_DROPPED);
        DeviceDescription description = descriptions.description(g.description());
        files.keySet().forEach(path -> check(path, description, g.description()));
        return keep(call, g, files, taken);
    }

    private static void check(String path, DeviceDescription description, String name) {
        if (!path.matches("/[A-Za-z0-9._/-]{1,200}") || path.contains("..") || !description.speaksOf(path)) {
            List<String> known = description.files().stream().map(f -> f.path()).toList();
            throw new ApiFailure(
                    ProblemCode.MALFORMED,
                    "the description " + name + " speaks of no such file; it speaks of " + String.join(", ", known),
                    "files");
        }
    }

    private Answer keep(Call call, Gateways.Gateway g, Map<String, String> files, Instant taken) {
        Map<String, byte[]> contents = files.entrySet().stream()
                .collect(Collectors.toMap(Map.Entry::getKey, f -> f.getValue().getBytes(StandardCharsets.UTF_8)));
        UUID job = db.inTransaction(tx -> {
            given.put(tx, g.id(), contents, taken);
            Journal.append(tx, call.by(), "files-dropped", "gateway", g.id(), named(files));
            return Jobs.add(tx, GatewayJobs.read(g.id()));
        });
        return Answer.accepted(db.inTransaction(tx -> JobView.of(tx, job)).orElseThrow());
    }

    private static String named(Map<String, String> files) {
        List<String> first = files.keySet().stream().sorted().limit(MOST_NAMED).toList();
        int more = files.size() - first.size();
        return String.join(", ", first) + (more > 0 ? " and " + more + " more" : "");
    }
}
