package tender.service.device;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.api.OfficeApi;
import tender.api.Page;
import tender.api.ProblemCode;
import tender.core.device.DeviceDescription;
import tender.core.wire.Fields;
import tender.core.wire.Sha256;
import tender.io.gateway.Capability;
import tender.io.gateway.DescriptionReader;
import tender.io.gateway.Recognition;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.jdbc.Db;
import tender.store.journal.Journal;
import tender.store.office.Descriptions;
import tender.store.office.Gateways;

/** Device descriptions: those that ship with Tender and the company's own, which count once an owner has approved their text. */
final class DescriptionRoutes implements Routes {
    private final Db db;
    private final Gateways gateways;
    private final DeviceDescriptions descriptions;
    private final Recognising recognising;

    DescriptionRoutes(Db db, Gateways gateways, DeviceDescriptions descriptions, Recognising recognising) {
        this.gateways = gateways;
        this.recognising = recognising;
        this.db = db;
        this.descriptions = descriptions;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/device-descriptions",
                        Role.READERS,
                        "Device descriptions, shipped and the company's own",
                        OfficeApi.Description.class,
                        call -> Answer.ok(new Page<>(all(), Optional.empty()))),
                Route.get(
                        "/device-descriptions/{name}/text",
                        Role.READERS,
                        "A description's text",
                        null,
                        call -> new Answer.File(
                                "application/yaml", call.path("name") + ".yaml", text(call.path("name")))),
                Route.post(
                        "/device-descriptions",
                        Role.WRITERS,
                        "Add or change a description of the company's own; it counts once an owner approves it",
                        OfficeApi.PutDescription.class,
                        OfficeApi.Description.class,
                        this::put),
                Route.post(
                        "/device-descriptions/{name}/check",
                        Role.WRITERS,
                        "Look whether a description's files are on a gateway, also before it counts; none of its commands is run",
                        OfficeApi.CheckDescription.class,
                        OfficeApi.Recognition.class,
                        this::check),
                Route.post(
                                "/device-descriptions/{name}/approve",
                                Role.OWNERS,
                                "Approve a description's text by its digest",
                                OfficeApi.ApproveDescription.class,
                                OfficeApi.Description.class,
                                this::approve)
                        .afresh());
    }

    private List<OfficeApi.Description> all() {
        List<OfficeApi.Description> out = new ArrayList<>();
        descriptions
                .shipped()
                .forEach((name, d) -> out.add(render(d, true, Sha256.hex(DescriptionReader.shippedText(name)), true)));
        db.inTransaction(Descriptions::all).forEach(own -> out.add(render(own)));
        return out;
    }

    private static OfficeApi.Description render(Descriptions.Description own) {
        return render(DescriptionReader.read(own.content()), false, own.digest(), own.isApproved());
    }

    private static OfficeApi.Description render(DeviceDescription d, boolean shipped, String digest, boolean approved) {
        List<String> commands = new ArrayList<>();
        d.outputs().forEach(o -> commands.add("reads: " + o.run().words()));
        d.commands()
                .forEach((task, source) -> commands.add(task.word() + ": "
                        + source.run()
                                .map(w -> w.words())
                                .orElseGet(() -> "file " + source.file().orElse(""))));
        return new OfficeApi.Description(
                d.name(),
                d.title(),
                shipped,
                digest,
                approved,
                d.files().stream().map(DeviceDescription.FileRule::path).toList(),
                commands,
                Capability.of(d, false).stream().map(Capability::word).sorted().toList());
    }

    private byte[] text(String name) {
        return descriptions.shipped().containsKey(name)
                ? DescriptionReader.shippedText(name)
                : find(name).content();
    }

    private Descriptions.Description find(String name) {
        return db.inTransaction(tx -> Descriptions.byName(tx, name))
                .orElseThrow(() -> ApiFailure.notFound("device description"));
    }

    private Answer put(Call call) {
        byte[] text = Fields.given(
                        "text", call.body(OfficeApi.PutDescription.class).text())
                .getBytes(StandardCharsets.UTF_8);
        DeviceDescription d = DescriptionReader.read(text);
        if (descriptions.shipped().containsKey(d.name())) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    "a description of this name ships with Tender; choose another",
                    "description");
        }
        db.run(tx -> {
            Descriptions.put(tx, d.name(), text, Sha256.hex(text), call.now());
            Journal.append(tx, call.by(), "description-changed", "device-description", d.name(), Sha256.hex(text));
        });
        return Answer.created(render(find(d.name())));
    }

    private Answer check(Call call) {
        String name = Fields.required(
                "gateway", call.body(OfficeApi.CheckDescription.class).gateway());
        Gateways.Gateway gateway =
                db.inTransaction(tx -> gateways.byName(tx, name)).orElseThrow(() -> ApiFailure.notFound("gateway"));
        if (!gateway.connector().equals("ssh")) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT, "descriptions are for devices that Tender reaches by SSH", "gateway");
        }
        Recognition r = recognising.check(gateway.id(), DescriptionReader.read(text(call.path("name"))));
        return Answer.ok(new OfficeApi.Recognition(
                call.path("name"), r.description().title(), r.fits(), r.found(), r.missing()));
    }

    private Answer approve(Call call) {
        String name = call.path("name");
        String digest = Fields.required(
                "digest", call.body(OfficeApi.ApproveDescription.class).digest());
        db.run(tx -> {
            if (!Descriptions.approve(tx, name, digest, call.caller().reference())) {
                throw new ApiFailure(ProblemCode.STALE, "the text is no longer the one with this digest", "digest");
            }
            Journal.append(tx, call.by(), "description-approved", "device-description", name, digest);
        });
        return Answer.ok(render(find(name)));
    }
}
