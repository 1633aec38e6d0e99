package tender.service.profile;

import java.util.List;
import java.util.function.Function;
import tender.api.FileRequestApi;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.profile.FileRequests.FileRequest;

/** Client files that somebody has to make at a gateway. */
final class FileRequestRoutes implements Routes {
    private final RequestedFiles files;

    FileRequestRoutes(RequestedFiles files) {
        this.files = files;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.get(
                        "/file-requests",
                        Role.READERS,
                        "Client files that were requested and not imported yet, with what to do at each gateway",
                        FileRequestApi.FileRequests.class,
                        call -> Answer.ok(render(files.all()))),
                Route.get(
                        "/gateways/{id}/file-requests",
                        Role.READERS,
                        "Client files that were requested at a gateway and not imported yet, with what to do there",
                        FileRequestApi.FileRequests.class,
                        call -> Answer.ok(render(files.at(call.id())))),
                Route.post(
                        "/gateways/{id}/file-requests",
                        Role.WRITERS,
                        "Request client files that only the gateway can make; an import of a file answers its request",
                        FileRequestApi.Ask.class,
                        FileRequestApi.FileRequests.class,
                        this::ask),
                Route.delete("/file-requests/{id}", Role.WRITERS, "Cancel a request for a client file", call -> {
                    files.cancel(call.id(), call.by());
                    return Answer.done();
                }));
    }

    private Answer ask(Call call) {
        FileRequestApi.Ask body = call.body(FileRequestApi.Ask.class);
        RequestedFiles.Order order =
                new RequestedFiles.Order(call.id(), body.devices().orElse(List.of()), body.team());
        return Answer.ok(
                render(body.dryRun().orElse(false) ? files.rehearse(order, call.by()) : files.ask(order, call.by())));
    }

    private static FileRequestApi.FileRequests render(List<FileRequest> all) {
        Function<FileRequest, String> user = WantedFiles.users(all);
        return new FileRequestApi.FileRequests(
                all.stream().map(r -> render(r, user.apply(r))).toList(), WantedFiles.words(all));
    }

    private static FileRequestApi.FileRequest render(FileRequest r, String user) {
        return new FileRequestApi.FileRequest(
                r.id().toString(),
                r.gateway(),
                r.handle(),
                r.device(),
                user,
                r.reason().word(),
                r.askedBy(),
                r.askedAt(),
                r.replaces(),
                r.ends());
    }
}
