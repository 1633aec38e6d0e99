package tender.service.profile;

import java.util.Optional;
import java.util.UUID;
import tender.store.profile.Profiles;

/** What came of it: the profile, and the job that writes the gateway, where it is to be written. */
record Outcome(Profiles.Profile profile, Optional<UUID> job) {}
