package tender.service.key;

import java.time.Instant;
import java.util.List;
import java.util.Set;
import java.util.UUID;
import tender.api.KeyApi;
import tender.api.WatchApi;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobView;
import tender.store.jdbc.Db;
import tender.store.secret.KeyRotations;

/** Looking at the master key's rotation, and starting one. */
final class KeyRoutes implements Routes {
    private final Db db;
    private final MasterKeys keys;

    KeyRoutes(Db db, MasterKeys keys) {
        this.db = db;
        this.keys = keys;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.get(
                        "/keys/rotation",
                        Role.READERS,
                        "The rotation of the master key that goes on, or the last one",
                        KeyApi.Rotation.class,
                        call -> Answer.ok(db.inTransaction(KeyRotations::newest)
                                .map(KeyRoutes::render)
                                .orElseThrow(() -> ApiFailure.notFound("rotation: the master key is the first one")))),
                Route.post(
                                "/keys/rotate",
                                Set.of(Role.OWNER),
                                "Make a new master key and encrypt every secret in the database under it",
                                null,
                                WatchApi.Job.class,
                                this::rotate)
                        .afresh());
    }

    private Answer rotate(Call call) {
        Instant now = call.now();
        UUID job = keys.rotate(call.caller().reference(), call.caller().name(), now);
        return Answer.accepted(db.inTransaction(tx -> JobView.of(tx, job)).orElseThrow());
    }

    private static KeyApi.Rotation render(KeyRotations.Rotation r) {
        return new KeyApi.Rotation(
                r.keyId(), r.endedAt().isPresent() ? "ended" : "running", r.orderedBy(), r.startedAt(), r.endedAt());
    }
}
