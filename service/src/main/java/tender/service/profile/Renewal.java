package tender.service.profile;

import java.time.Instant;
import java.util.Optional;
import tender.store.office.Listeners;
import tender.store.profile.Profiles;

/**
 * A profile that gets another revision.
 *
 * @param listener as it is now
 * @param until when access ends from now on; empty: as before
 */
record Renewal(Profiles.Profile profile, Listeners.Listener listener, Optional<Instant> until, Edition edition) {
    Instant now() {
        return edition.now();
    }
}
