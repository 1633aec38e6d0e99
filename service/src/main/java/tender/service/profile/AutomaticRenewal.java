package tender.service.profile;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.wire.MalformedException;
import tender.service.job.JobKind;
import tender.service.refusal.Refused;
import tender.store.certificate.Certificates;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.By;

/**
 * Renews certificates ahead of their end: a month, or the last quarter of a shorter life. The old one valid until its own
 * end, so that nobody is shut out while the new file is on its way. Where only the gateway can make a new file, it is requested.
 * Where somebody said when access ends, nothing is renewed.
 */
final class AutomaticRenewal implements JobKind {
    private static final Logger LOG = LoggerFactory.getLogger(AutomaticRenewal.class);
    private static final String NAME = "renewal-ahead";
    private static final Duration EVERY = Duration.ofHours(6);
    private static final Duration AHEAD = Duration.ofDays(30);
    private static final int AT_ONCE = 1_000;

    private final Db db;
    private final Clock clock;
    private final Renewing renewing;
    private final RequestedFiles requested;

    AutomaticRenewal(Db db, Clock clock, Renewing renewing, RequestedFiles requested) {
        this.requested = requested;
        this.db = db;
        this.clock = clock;
        this.renewing = renewing;
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
        requested.askAhead(now);
        for (Certificates.Nearing n : db.inTransaction(tx -> Certificates.nearing(tx, AHEAD, now, AT_ONCE))) {
            Instant end = now.plus(Duration.between(n.starts(), n.ends()));
            try {
                renewing.renew(n.profileId(), new RenewOrder(Optional.empty(), Optional.of(end)), By.tender(now));
            } catch (Refused | MalformedException e) {
                // the finding of what ends soon stays; an authority near its own end is the usual reason
                LOG.info("{} cannot be renewed ahead: {}", n.profileId(), e.getMessage());
            }
        }
    }
}
