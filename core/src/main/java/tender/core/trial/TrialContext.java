package tender.core.trial;

import java.util.List;
import java.util.Optional;
import tender.core.office.Listener;

/**
 * What Tender knows of the other side while a trial is judged.
 *
 * @param listener as it was last read
 * @param revoked whether the profile's certificate was revoked
 * @param newerRevision whether the file that was tried is not the newest
 * @param blocked what stands in the way from outside, as worked out from the records; empty where nothing does
 * @param log lines that the gateway's log gained during the trial
 * @param around what the records say of the place that was called
 */
public record TrialContext(
        Optional<Listener> listener,
        boolean revoked,
        boolean newerRevision,
        Optional<String> blocked,
        List<String> log,
        EndpointRecords around) {
    public TrialContext {
        log = List.copyOf(log);
    }

    /** What the gateway's log alone tells. */
    public static TrialContext ofLog(List<String> log) {
        return new TrialContext(Optional.empty(), false, false, Optional.empty(), log, EndpointRecords.UNKNOWN);
    }
}
