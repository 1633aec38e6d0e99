package tender.service.session;

import java.time.Instant;
import java.util.Collection;
import java.util.Map;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.store.jdbc.Tx;
import tender.store.trial.Trials;

/** Tells handshakes that Tender's own trials made from those of people: a trial is nobody's session and no proof of one. */
public final class TrialTraffic {
    /** Devices give whole seconds. */
    private static final int GRAIN_SECONDS = 1;

    private final Map<UUID, Trials.Trace> traces;

    private TrialTraffic(Map<UUID, Trials.Trace> traces) {
        this.traces = traces;
    }

    /** What trials of these profiles left at their gateways. */
    public static TrialTraffic of(Tx tx, Collection<UUID> profileIds) {
        return new TrialTraffic(
                Trials.traces(tx, profileIds).stream().collect(Collectors.toMap(Trials.Trace::triedProfileId, t -> t)));
    }

    /** Whether all that the gateway shows of a key stems from the newest trial with it. */
    public boolean explain(UUID profileId, Instant handshake, long received) {
        Trials.Trace trace = traces.get(profileId);
        if (trace == null) {
            return false;
        }
        boolean since = !handshake.isBefore(trace.createdAt().minusSeconds(GRAIN_SECONDS));
        boolean until =
                trace.endedAt().isEmpty() || !handshake.isAfter(trace.endedAt().get());
        boolean nothingMore = trace.receivedThen().isEmpty()
                || received <= trace.receivedThen().get();
        return since && until && nothingMore;
    }
}
