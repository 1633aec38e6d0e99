package tender.store.journal;

import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import tender.store.jdbc.Tx;

/** Who and what journal entries and jobs speak of, by their names of today: they themselves hold references only. */
public final class References {
    private static final String ID = "[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}";

    private static final String NAMES = """
            select 'operator:' || id as reference, name as name from operator where id = any (?)
            union all select 'gateway:' || id, name from gateway where id = any (?)
            union all select 'site:' || id, name from site where id = any (?)
            union all select 'person:' || id, name from person where id = any (?)
            union all select 'profile:' || id, label from profile where id = any (?)
            union all select 'authority:' || id, name from authority where id = any (?)
            union all select 'certificate:' || id, common_name from certificate where id = any (?)
            union all select 'handout:' || h.id, p.label
                from handout h
                join profile p on p.id = h.profile_id
                where h.id = any (?)
            union all select 'trial:' || id, subject from trial where id = any (?)""";

    private References() {}

    /** Names by {@code KIND:ID}; what is gone has none. */
    public static Map<String, String> names(Tx tx, List<Journal.Written> page) {
        Set<UUID> ids = new HashSet<>();
        for (Journal.Written w : page) {
            add(ids, w.entry().subjectId());
            add(ids, w.entry().actor().replaceFirst("^operator:", ""));
        }
        return names(tx, ids);
    }

    /** Names by {@code KIND:ID} of whatever has one of these ids. */
    public static Map<String, String> names(Tx tx, Collection<UUID> ids) {
        List<UUID> all = List.copyOf(ids);
        Map<String, String> out = new HashMap<>();
        tx.list(
                NAMES,
                p -> p.ids(all)
                        .ids(all)
                        .ids(all)
                        .ids(all)
                        .ids(all)
                        .ids(all)
                        .ids(all)
                        .ids(all)
                        .ids(all),
                row -> out.put(row.text("reference"), row.text("name")));
        return out;
    }

    private static void add(Set<UUID> ids, String text) {
        if (text.matches(ID)) {
            ids.add(UUID.fromString(text));
        }
    }
}
