package tender.service.change;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.impact.Impact;
import tender.core.office.Change;
import tender.core.office.Office;
import tender.core.office.Restart;
import tender.store.jdbc.Db;
import tender.store.jdbc.Slice;
import tender.store.profile.Whose;
import tender.store.session.Sessions;

/**
 * What changes at a gateway would do.
 *
 * @param cutOff who is connected now through what starts anew
 * @param byHand whether somebody has to make it, since Tender does not write the gateway
 * @param guarded whether the device brings back what was there unless it is told otherwise
 */
record ImpactPreview(Impact.Preview impact, List<String> cutOff, boolean guarded, boolean byHand) {
    private static final UUID END = UUID.fromString("ffffffff-ffff-ffff-ffff-ffffffffffff");
    private static final int MOST = 10_000;

    /** The same at a gateway that Tender does not write. */
    ImpactPreview asInstruction() {
        return new ImpactPreview(impact, cutOff, false, true);
    }

    static ImpactPreview of(Db db, Office office, String gateway, List<Change> changes) {
        Impact.Preview impact = Impact.of(office, gateway, changes);
        return new ImpactPreview(
                impact,
                impact.restart().cuts() ? connected(db, gateway, changes, impact.restart()) : List.of(),
                ChangeSteps.couldCutOff(changes),
                false);
    }

    private static List<String> connected(Db db, String gateway, List<Change> changes, Restart restart) {
        Set<String> listeners =
                changes.stream().flatMap(c -> c.cutListener().stream()).collect(Collectors.toSet());
        Sessions.Filter here = new Sessions.Filter(Sessions.Which.LIVE, Optional.of(gateway), Whose.ALL);
        return db.inTransaction(tx -> Sessions.page(tx, here, Slice.after(END, MOST))).stream()
                .filter(s -> restart == Restart.DEVICE || listeners.contains(s.listener()))
                .map(s -> s.personName().orElse(s.label().orElse(s.endpoint())))
                .distinct()
                .sorted()
                .toList();
    }
}
