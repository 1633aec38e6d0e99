package tender.service.importing;

import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.api.ImportApi;
import tender.api.InspectApi;
import tender.api.ProblemCode;
import tender.core.credential.Secret;
import tender.core.wire.Fields;
import tender.io.gateway.ManagementConnection;
import tender.service.device.Connections;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.OneByOne;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.jdbc.Db;
import tender.store.office.Gateways;

/** The route by which a gateway's own client files are imported. */
public final class ImportRoutes implements Routes {
    private final Db db;
    private final Gateways gateways;
    private final Connections connections;
    private final Importing importing;
    private final OneByOne oneByOne;

    public ImportRoutes(Db db, Gateways gateways, Connections connections, Importing importing, OneByOne oneByOne) {
        this.oneByOne = oneByOne;
        this.db = db;
        this.gateways = gateways;
        this.connections = connections;
        this.importing = importing;
    }

    @Override
    public List<Route> routes() {
        return List.of(Route.post(
                "/gateways/{id}/imports",
                Role.WRITERS,
                "Import client files that a gateway exported: matched to devices, repaired by rule, kept as they came",
                ImportApi.Import.class,
                ImportApi.Imported.class,
                this::importFiles));
    }

    /** Bounded by the connector's time limits. */
    private byte[] exported(Gateways.Gateway gateway) {
        try (ManagementConnection session = connections.open(gateway.id())) {
            return session.export();
        }
    }

    private Answer importFiles(Call call) {
        Gateways.Gateway gateway =
                db.inTransaction(tx -> gateways.byId(tx, call.id())).orElseThrow(() -> ApiFailure.notFound("gateway"));
        ImportApi.Import request = call.body(ImportApi.Import.class);
        ImportOrder order = order(request, gateway);
        boolean dryRun = request.dryRun().orElse(false);
        return Answer.ok(render(oneByOne.run(
                call.caller(),
                () -> dryRun ? importing.rehearse(order, call.by()) : importing.importFiles(order, call.by()))));
    }

    private ImportOrder order(ImportApi.Import request, Gateways.Gateway gateway) {
        return new ImportOrder(
                gateway,
                request.listener(),
                Fields.title("name", request.name().orElse("export of " + gateway.name())),
                request.content().map(ImportRoutes::decoded).orElseGet(() -> exported(gateway)),
                request.assign().orElse(Map.of()),
                RefusedRepairs.of(request.refuse().orElse(List.of())),
                unlocking(request.passphrase(), request.keepPassphrase()),
                request.decision().filter(d -> !d.isBlank()));
    }

    static Optional<Unlocking> unlocking(Optional<Secret> passphrase, Optional<Boolean> kept) {
        return passphrase.map(p -> new Unlocking(p, kept.orElse(false)));
    }

    private static byte[] decoded(String base64) {
        try {
            return Base64.getDecoder().decode(base64);
        } catch (IllegalArgumentException e) {
            throw new ApiFailure(ProblemCode.MALFORMED, "the content is not base64", "content");
        }
    }

    private static ImportApi.Imported render(List<FileImport> all) {
        return new ImportApi.Imported(
                all.stream().map(ImportRoutes::render).toList(),
                (int) all.stream()
                        .filter(a -> a.outcome() instanceof FileImport.Imported)
                        .count(),
                (int) all.stream()
                        .filter(a -> a.outcome() instanceof FileImport.Asked)
                        .count());
    }

    static ImportApi.File render(FileImport a) {
        return new ImportApi.File(
                a.candidate().path(),
                a.outcome().word(),
                a.outcome().why(),
                a.owner().map(o -> o.person().handle()),
                a.owner().map(o -> o.device().name()),
                a.owner().map(Owners.Owner::matchedBy),
                a.label(),
                a.repaired().repairs().stream()
                        .map(r -> new ImportApi.Repair(
                                r.rule().code(), r.rule().reason(), r.line(), r.before(), r.after()))
                        .toList(),
                a.notes().stream().map(InspectApi.Note::of).toList());
    }
}
