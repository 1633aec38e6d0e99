package tender.store.profile;

import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.store.jdbc.Tx;

/** The names of profiles' files but for the revision; a name is given to one profile and never again. */
public final class FileStems {
    private FileStems() {}

    private static final String OF = "select stem from file_stem where profile_id = ?";

    public static Optional<String> of(Tx tx, UUID profileId) {
        return tx.first(OF, p -> p.id(profileId), row -> row.text("stem"));
    }

    private static final String TAKEN = "select stem from file_stem where stem = any(?)";
    private static final String ALL = "select stem from file_stem";
    private static final String GIVE = "insert into file_stem (stem, profile_id) values (?, ?)";

    /** Those that are taken, as far as this transaction has asked. */
    private static final class Known {
        private final Set<String> taken = new HashSet<>();
        private boolean all;
        private int asked;
    }

    private static final int ONE_BY_ONE = 4;

    /** Gives a profile the first stem that nobody has. */
    public static String give(Tx tx, UUID profileId, List<String> candidates) {
        Known known = tx.remembered(Known.class).orElseGet(Known::new);
        tx.remember(Known.class, known);
        if (!known.all) {
            known.asked++;
            if (known.asked > ONE_BY_ONE) { // many are issued at once: one look at all is cheaper than one for each
                known.taken.addAll(tx.list(ALL, p -> p, row -> row.text("stem")));
                known.all = true;
            } else {
                known.taken.addAll(tx.list(TAKEN, p -> p.texts(candidates), row -> row.text("stem")));
            }
        }
        String stem = candidates.stream()
                .filter(known.taken::add)
                .findFirst()
                .orElseThrow(() -> new IllegalStateException("one of the candidates is made of the profile's id"));
        tx.later(GIVE, p -> p.text(stem).id(profileId));
        return stem;
    }
}
