package tender.service.change;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.api.ChangeApi;
import tender.api.ProblemCode;
import tender.core.office.Change;
import tender.core.wire.Fields;
import tender.io.gateway.ManagementConnection;
import tender.service.device.Connections;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobRoutes;
import tender.service.job.JobWaits;
import tender.service.office.OfficeRecords;
import tender.store.change.ChangeState;
import tender.store.change.DeviceChanges;
import tender.store.change.DeviceChanges.DeviceChange;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.SettingSources;

/** Previewing, ordering, keeping and returning changes of devices' settings; drift and the log. */
final class ChangeRoutes implements Routes {
    static final int MAX_CHANGES = 50;
    private static final int SHOWN = 100;
    private static final int MAX_TEMPORARY_SECONDS = 7 * 24 * 3600;

    private final Db db;
    private final Gateways gateways;
    private final OfficeRecords records;
    private final Connections connections;
    private final ChangeOrdering ordering;
    private final JobWaits waits;

    ChangeRoutes(
            Db db,
            Gateways gateways,
            OfficeRecords records,
            Connections connections,
            ChangeOrdering ordering,
            JobWaits waits) {
        this.db = db;
        this.gateways = gateways;
        this.records = records;
        this.connections = connections;
        this.ordering = ordering;
        this.waits = waits;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.post(
                        "/gateways/{id}/changes/preview",
                        Role.READERS,
                        "What changes of a device's settings would do: files, people connected, findings",
                        ChangeApi.Order.class,
                        ChangeApi.Preview.class,
                        call -> Answer.ok(
                                preview(gateway(call), changes(call.body(ChangeApi.Order.class)), call.now()))),
                Route.post(
                        "/gateways/{id}/changes",
                        Role.WRITERS,
                        "Apply changes: backup, write, reload or restart, read again, run a trial; a change that fails is rolled back. At a gateway that Tender does not write it becomes an instruction for a person",
                        ChangeApi.Order.class,
                        ChangeApi.Ordered.class,
                        this::order),
                Route.page(
                        "/gateways/{id}/changes",
                        Role.READERS,
                        "Changes of a gateway, newest first",
                        ChangeApi.DeviceChange.class,
                        call -> list(
                                db.inTransaction(tx -> ChangeView.of(tx, DeviceChanges.of(tx, call.id(), SHOWN))))),
                Route.page(
                        "/changes/temporary",
                        Role.READERS,
                        "Temporary changes, the next to expire first",
                        ChangeApi.DeviceChange.class,
                        call -> list(db.inTransaction(tx -> ChangeView.of(tx, DeviceChanges.temporary(tx))))),
                Route.get(
                        "/changes/{id}",
                        Role.READERS,
                        "One change",
                        ChangeApi.DeviceChange.class,
                        call -> Answer.ok(render(find(call)))),
                Route.post(
                        "/changes/{id}/keep",
                        Role.WRITERS,
                        "Make a temporary change permanent",
                        null,
                        ChangeApi.DeviceChange.class,
                        call -> end(active(call), DeviceChanges.End.KEEP)),
                Route.post(
                        "/changes/{id}/rollback",
                        Role.WRITERS,
                        "Roll back a temporary change now",
                        null,
                        ChangeApi.DeviceChange.class,
                        call -> end(active(call), DeviceChanges.End.ROLLBACK)),
                Route.page(
                        "/gateways/{id}/drift",
                        Role.READERS,
                        "What was changed at the device and not through Tender, newest first",
                        ChangeApi.Drift.class,
                        this::drift),
                Route.post(
                        "/gateways/{id}/drift/note",
                        Role.WRITERS,
                        "Take note of what was changed at the device",
                        null,
                        null,
                        this::note),
                Route.get(
                        "/gateways/{id}/facts",
                        Role.READERS,
                        "All that a gateway said of itself, each setting explained",
                        ChangeApi.Facts.class,
                        call -> Answer.ok(FactsView.of(
                                records.device(gateway(call)),
                                drifted(call.id()).stream()
                                        .filter(d -> !d.noted())
                                        .toList(),
                                db.inTransaction(tx -> SettingSources.of(tx, call.id()))))),
                Route.get(
                        "/gateways/{id}/log",
                        Role.WRITERS,
                        "The last lines of the device's log",
                        ChangeApi.Log.class,
                        this::log));
    }

    private static Answer list(List<?> items) {
        return Answer.ok(new tender.api.Page<>(items, Optional.empty()));
    }

    private Gateways.Gateway gateway(Call call) {
        return db.inTransaction(tx -> gateways.byId(tx, call.id())).orElseThrow(() -> ApiFailure.notFound("gateway"));
    }

    private DeviceChange find(Call call) {
        return db.inTransaction(tx -> DeviceChanges.byId(tx, call.id()))
                .orElseThrow(() -> ApiFailure.notFound("change"));
    }

    private DeviceChange active(Call call) {
        DeviceChange c = find(call);
        if (c.state() != ChangeState.ACTIVE) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT, "this change is " + c.state().word() + ", not temporary and active");
        }
        return c;
    }

    private static List<Change> changes(ChangeApi.Order request) {
        List<Change> changes = Fields.given("changes", request.changes());
        Fields.range("changes", changes.size(), 1, MAX_CHANGES);
        return changes;
    }

    /** What the changes would do; shared with fixing a finding. */
    ChangeApi.Preview preview(Gateways.Gateway gateway, List<Change> changes, Instant now) {
        ImpactPreview preview = ImpactPreview.of(db, records.office(now), gateway.name(), changes);
        return ChangeView.of(ordering.isByHand(gateway) ? preview.asInstruction() : preview);
    }

    private Answer order(Call call) {
        ChangeApi.Order request = call.body(ChangeApi.Order.class);
        List<Change> changes = changes(request);
        Gateways.Gateway gateway = gateway(call);
        return ordered(ordering.order(
                new ChangeOrder(
                        Ids.next(),
                        gateway,
                        changes,
                        request.temporarySeconds()
                                .map(s -> Fields.range("temporarySeconds", s, 10, MAX_TEMPORARY_SECONDS)),
                        request.at().filter(at -> at.isAfter(call.now())).orElse(call.now()),
                        request.removeWhenUnused(),
                        request.removeAt(),
                        Fields.optionalTitle("why", request.why()),
                        call.caller().reference()),
                call.now()));
    }

    private Answer end(DeviceChange c, DeviceChanges.End end) {
        UUID job = ordering.end(c, end);
        return JobRoutes.whenDone(
                waits,
                job,
                c.gateway(),
                () -> Answer.ok(render(
                        db.inTransaction(tx -> DeviceChanges.byId(tx, c.id())).orElseThrow())));
    }

    Answer ordered(ChangeOrdering.Ordered ordered) {
        return Answer.accepted(
                new ChangeApi.Ordered(render(ordered.change()), ordered.jobId().map(UUID::toString)));
    }

    private ChangeApi.DeviceChange render(DeviceChange c) {
        return db.inTransaction(tx -> ChangeView.of(tx, List.of(c))).get(0);
    }

    private Answer drift(Call call) {
        return list(drifted(call.id()));
    }

    private List<ChangeApi.Drift> drifted(UUID gatewayId) {
        return db.inTransaction(tx -> DeviceChanges.drift(tx, gatewayId, SHOWN)).stream()
                .map(d -> new ChangeApi.Drift(
                        d.field(),
                        d.was(),
                        d.becomes(),
                        d.seenAt(),
                        d.beforeAt(),
                        d.notedAt().isPresent()))
                .toList();
    }

    private Answer note(Call call) {
        Gateways.Gateway gateway = gateway(call);
        db.run(tx -> {
            int noted = DeviceChanges.note(tx, gateway.id(), call.caller().reference(), call.now());
            Journal.append(tx, call.by(), "drift-noted", "gateway", gateway.id(), noted + " differences");
            Events.say(tx, "gateway", gateway.id());
        });
        return Answer.done();
    }

    private Answer log(Call call) {
        try (ManagementConnection session = connections.open(gateway(call).id())) {
            return Answer.ok(new ChangeApi.Log(session.log(SHOWN)));
        }
    }
}
