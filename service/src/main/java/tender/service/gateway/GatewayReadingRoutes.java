package tender.service.gateway;

import java.util.List;
import java.util.UUID;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.core.wire.Fields;
import tender.io.gateway.Recognition;
import tender.service.device.DeviceDescriptions;
import tender.service.device.Recognising;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobRoutes;
import tender.service.job.JobView;
import tender.service.job.JobWaits;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;
import tender.store.office.Gateways;

/** Reading gateways again, and backups on demand. */
final class GatewayReadingRoutes implements Routes {
    private final Db db;
    private final Gateways gateways;
    private final GatewayView view;
    private final JobWaits waits;
    private final Recognising recognising;

    GatewayReadingRoutes(
            Db db, Gateways gateways, DeviceDescriptions descriptions, Recognising recognising, JobWaits waits) {
        this.recognising = recognising;
        this.db = db;
        this.gateways = gateways;
        this.view = new GatewayView(descriptions);
        this.waits = waits;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.post(
                        "/gateways/{id}/read",
                        Role.WRITERS,
                        "Back up and read the gateway again",
                        null,
                        WatchApi.Job.class,
                        this::read),
                Route.post(
                        "/gateways/{id}/recognise",
                        Role.WRITERS,
                        "Look which device descriptions fit the gateway; nothing is changed on it",
                        null,
                        OfficeApi.Recognised.class,
                        this::recognise),
                Route.post(
                        "/gateways/read",
                        Role.WRITERS,
                        "Read all gateways again; one that does not answer delays nobody",
                        null,
                        OfficeApi.ReadAll.class,
                        this::readAll),
                Route.post(
                        "/gateways/{id}/backups",
                        Role.WRITERS,
                        "Take a backup now",
                        WatchApi.TakeBackup.class,
                        OfficeApi.Gateway.class,
                        this::takeBackup));
    }

    private Gateways.Gateway find(Call call) {
        return db.inTransaction(tx -> gateways.byId(tx, call.id())).orElseThrow(() -> ApiFailure.notFound("gateway"));
    }

    /** One that can be read at all. */
    private Gateways.Gateway reached(Call call) {
        Gateways.Gateway gateway = find(call);
        if (gateway.isManual()) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    gateway.name() + " is managed by hand, so there is nothing to read; enter what changed there");
        }
        return gateway;
    }

    static Answer job(Db db, UUID id) {
        return Answer.accepted(db.inTransaction(tx -> JobView.of(tx, id)).orElseThrow());
    }

    private Answer read(Call call) {
        Gateways.Gateway gateway = reached(call);
        return job(db, db.inTransaction(tx -> Jobs.add(tx, GatewayJobs.read(gateway.id()))));
    }

    private Answer recognise(Call call) {
        List<Recognition> all = recognising.recognise(reached(call).id());
        return Answer.ok(new OfficeApi.Recognised(
                Recognition.proposed(all),
                all.stream()
                        .map(r -> new OfficeApi.Recognition(
                                r.description().name(), r.description().title(), r.fits(), r.found(), r.missing()))
                        .toList()));
    }

    /** One job for each, so that the number of workers bounds connections and threads. */
    private Answer readAll(Call call) {
        List<OfficeApi.ReadJob> jobs = db.inTransaction(tx -> gateways.all(tx).stream()
                .filter(g -> g.identityAccepted() && !g.isManual())
                .map(g -> new OfficeApi.ReadJob(
                        g.name(), Jobs.add(tx, GatewayJobs.read(g.id())).toString()))
                .toList());
        return Answer.accepted(new OfficeApi.ReadAll(jobs));
    }

    private Answer takeBackup(Call call) {
        Gateways.Gateway gateway = reached(call);
        String reason = Fields.optionalTitle(
                "reason", call.body(WatchApi.TakeBackup.class).reason());
        UUID job = db.inTransaction(tx -> Jobs.add(
                tx,
                GatewayBackupJob.order(
                        gateway.id(),
                        reason.isEmpty() ? "on demand" : reason,
                        call.caller().reference())));
        return JobRoutes.whenDone(
                waits, job, gateway.name(), () -> view.answer(db, gateways, gateway.id(), call.now()));
    }
}
