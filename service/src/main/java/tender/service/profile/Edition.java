package tender.service.profile;

import java.time.Instant;
import java.util.Map;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.core.wire.Sha256;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;

/**
 * A revision that is being made: whose, its number, and when.
 *
 * @param label of the profile
 * @param stem of its files' names
 */
record Edition(UUID profileId, String label, String stem, int number, Instant now) {
    /** A file's content and name, and the settings that it depends on, by the words of attributes. */
    record Made(String content, String fileName, Map<String, String> madeFor) {}

    static Edition first(Tx tx, UUID profileId, ProfilePlan w, Instant now) {
        return new Edition(profileId, w.label(), Stems.of(tx, profileId, w), 1, now);
    }

    static Edition next(Tx tx, Profiles.Profile p, Instant now) {
        return new Edition(p.id(), p.label(), Stems.of(tx, p), p.revision() + 1, now);
    }

    /** The one after it, of the same moment. */
    Edition followed() {
        return new Edition(profileId, label, stem, number + 1, now);
    }

    String title() {
        return label + ", revision " + number;
    }

    /** Keeps it, and gives its content. */
    String keep(Tx tx, Revisions revisions, Made made) {
        revisions.insert(
                tx,
                new Revisions.Revision(
                        Ids.next(),
                        profileId,
                        number,
                        Sha256.hex(made.content()),
                        made.fileName(),
                        made.madeFor(),
                        now),
                Secret.of(made.content()));
        return made.content();
    }
}
