package tender.service.profile;

import java.time.Instant;
import java.util.Optional;

/**
 * How a profile is renewed.
 *
 * @param to a listener side by side with the profile's own, to move it there; empty: it stays
 * @param until the new end of access; empty: as it was
 */
record RenewOrder(Optional<String> to, Optional<Instant> until) {
    static final RenewOrder AS_IT_IS = new RenewOrder(Optional.empty(), Optional.empty());
}
