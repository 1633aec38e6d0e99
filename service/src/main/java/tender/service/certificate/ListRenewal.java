package tender.service.certificate;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import tender.core.certificate.Lifetimes;
import tender.service.gateway.GatewayJobs;
import tender.service.job.JobKind;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.reconcile.DesiredResources;

/**
 * Signs lists of revoked certificates anew when half their time is over: one that runs out shuts everyone out.
 */
final class ListRenewal implements JobKind {
    private static final String NAME = "revocation-lists";
    private static final Duration EVERY = Duration.ofHours(6);

    private final Db db;
    private final Clock clock;
    private final Revoking revoking;

    ListRenewal(Db db, Clock clock, Revoking revoking) {
        this.db = db;
        this.clock = clock;
        this.revoking = revoking;
    }

    static void ensure(Tx tx) {
        Jobs.keepRunning(tx, NAME, EVERY);
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        Instant now = clock.instant();
        Instant half = now.plus(Lifetimes.REVOCATION_LIST.dividedBy(2));
        for (Authorities.Authority a : db.inTransaction(Authorities::all)) {
            if (a.listUntil().isBefore(half)) {
                db.run(tx -> {
                    revoking.list(tx, Authorities.locked(tx, a.id()).orElseThrow(), now);
                    Certificates.gatewaysOf(tx, a.id()).forEach(g -> {
                        DesiredResources.revocationLists(tx, g);
                        GatewayJobs.reconcile(tx, g);
                    });
                });
            }
        }
    }
}
