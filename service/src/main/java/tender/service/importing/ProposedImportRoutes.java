package tender.service.importing;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import tender.api.ImportApi;
import tender.core.office.Listener;
import tender.core.proposal.Proposal;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.OneByOne;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.inspect.InspectRoutes;

/** The route by which an office is entered from the client files that people have. */
public final class ProposedImportRoutes implements Routes {
    private final ProposedImport importing;
    private final OneByOne oneByOne;

    public ProposedImportRoutes(ProposedImport importing, OneByOne oneByOne) {
        this.importing = importing;
        this.oneByOne = oneByOne;
    }

    @Override
    public List<Route> routes() {
        return List.of(Route.post(
                "/imports",
                Role.WRITERS,
                "Import client files of gateways that nobody entered yet: sites, gateways managed by hand, listeners, people and"
                        + " devices are created of what the files show; with dryRun it is proposed only",
                ImportApi.ImportFiles.class,
                ImportApi.Proposed.class,
                this::importFiles));
    }

    private Answer importFiles(Call call) {
        ImportApi.ImportFiles request = call.body(ImportApi.ImportFiles.class);
        ProposedImport.Order order = new ProposedImport.Order(
                InspectRoutes.files(request.files()),
                request.corrections().map(ProposedImportRoutes::corrections).orElse(Proposal.Corrections.NONE),
                ImportRoutes.unlocking(request.passphrase(), request.keepPassphrase()),
                request.decision().filter(d -> !d.isBlank()));
        boolean dryRun = request.dryRun().orElse(false);
        ProposedImport.Done done = oneByOne.run(
                call.caller(),
                () -> dryRun ? importing.rehearse(order, call.by()) : importing.importFiles(order, call.by()));
        return Answer.ok(render(done, dryRun));
    }

    private static Proposal.Corrections corrections(ImportApi.Corrections c) {
        return new Proposal.Corrections(
                c.names().orElse(Map.of()),
                c.sites().orElse(Map.of()),
                c.kinds().orElse(Map.of()),
                c.assign().orElse(Map.of()),
                Set.copyOf(c.leaveOut().orElse(List.of())));
    }

    private static ImportApi.Proposed render(ProposedImport.Done done, boolean dryRun) {
        Proposal p = done.proposal();
        return new ImportApi.Proposed(
                p.sites().stream()
                        .map(s -> new ImportApi.NewSite(s.name(), texts(s.networks()), s.exists()))
                        .toList(),
                p.gateways().stream().map(g -> render(p, g)).toList(),
                p.people().stream()
                        .map(x -> new ImportApi.NewPerson(
                                x.handle(),
                                x.name(),
                                x.devices().stream()
                                        .map(d -> new ImportApi.NewDevice(d.name(), d.kind(), d.exists()))
                                        .toList(),
                                x.exists()))
                        .toList(),
                placed(done),
                done.others().stream()
                        .map(o -> new ImportApi.OtherFile(o.name(), o.kind().words()))
                        .toList(),
                count(done, FileImport.Imported.class),
                count(done, FileImport.Present.class),
                dryRun);
    }

    private static List<ImportApi.PlacedFile> placed(ProposedImport.Done done) {
        List<Proposal.File> files = done.proposal().files();
        return java.util.stream.IntStream.range(0, files.size())
                .mapToObj(i -> new ImportApi.PlacedFile(
                        files.get(i).gateway(),
                        files.get(i).listener(),
                        ImportRoutes.render(done.files().get(i))))
                .toList();
    }

    private static int count(ProposedImport.Done done, Class<? extends FileImport.Outcome> kind) {
        return (int)
                done.files().stream().filter(f -> kind.isInstance(f.outcome())).count();
    }

    private static ImportApi.NewGateway render(Proposal p, Proposal.Gateway g) {
        return new ImportApi.NewGateway(
                g.name(),
                g.proposed(),
                g.site(),
                g.kind(),
                g.hosts().stream().map(Object::toString).toList(),
                g.listeners().stream().map(ProposedImportRoutes::render).toList(),
                (int) p.files().stream()
                        .filter(f -> f.gateway().equals(g.name()))
                        .count(),
                g.exists());
    }

    private static ImportApi.NewListener render(Listener l) {
        return new ImportApi.NewListener(l.name(), l.protocol().word(), texts(l.values()));
    }

    private static Map<String, String> texts(Map<?, ?> values) {
        Map<String, String> out = new LinkedHashMap<>();
        values.forEach((k, v) ->
                out.put(k instanceof tender.core.office.Attribute a ? a.word() : k.toString(), v.toString()));
        return out;
    }
}
