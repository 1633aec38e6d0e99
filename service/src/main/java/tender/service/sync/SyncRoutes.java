package tender.service.sync;

import java.util.List;
import java.util.UUID;
import tender.api.WatchApi;
import tender.service.gateway.GatewayJobs;
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

/** The route by which a gateway is brought to what the records say. */
final class SyncRoutes implements Routes {
    private final Db db;
    private final Gateways gateways;

    SyncRoutes(Db db, Gateways gateways) {
        this.db = db;
        this.gateways = gateways;
    }

    @Override
    public List<Route> routes() {
        return List.of(Route.post(
                "/gateways/{id}/apply",
                Role.WRITERS,
                "Bring the gateway to what the records say: peers, accounts, revocation lists",
                null,
                WatchApi.Job.class,
                this::sync));
    }

    private Answer sync(Call call) {
        UUID job = db.inTransaction(tx -> {
            Gateways.Gateway gateway = gateways.byId(tx, call.id()).orElseThrow(() -> ApiFailure.notFound("gateway"));
            UUID id = Jobs.add(tx, GatewayJobs.sync(gateway.id()));
            Journal.append(tx, call.by(), "gateway-synced", "gateway", gateway.id(), "");
            return id;
        });
        return Answer.accepted(db.inTransaction(tx -> JobView.of(tx, job)).orElseThrow());
    }
}
