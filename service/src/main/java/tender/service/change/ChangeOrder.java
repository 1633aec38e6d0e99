package tender.service.change;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.office.Change;
import tender.store.jdbc.Ids;
import tender.store.journal.By;
import tender.store.office.Gateways;

/**
 * Changes of a device's settings that somebody wants.
 *
 * @param id the change's, once it is ordered
 * @param temporarySeconds how long they stay; empty for good
 * @param at when they are made
 * @param removeWhenUnused a listener that goes when nobody uses it any more, or at {@code removeAt}
 * @param why what they are for, for whoever makes them by hand; empty where nobody says
 * @param actor who wants them, for the journal
 */
record ChangeOrder(
        UUID id,
        Gateways.Gateway gateway,
        List<Change> changes,
        Optional<Integer> temporarySeconds,
        Instant at,
        Optional<String> removeWhenUnused,
        Optional<Instant> removeAt,
        String why,
        String actor) {
    /** One change, for good and at once. */
    static ChangeOrder of(Gateways.Gateway gateway, Change change, String why, By by) {
        return new ChangeOrder(
                Ids.next(),
                gateway,
                List.of(change),
                Optional.empty(),
                by.at(),
                Optional.empty(),
                Optional.empty(),
                why,
                by.actor());
    }
}
