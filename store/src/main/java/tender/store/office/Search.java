package tender.store.office;

import java.util.List;
import tender.store.jdbc.Tx;

/** Finds people, gateways and profiles by part of a name, in one statement. */
public final class Search {
    /** A hit; {@code id} is what the thing's page is addressed by. */
    public record Hit(String kind, String id, String label, String detail) {}

    private Search() {}

    private static final String FIND = """
            with wanted as (select '%' || replace(replace(replace(?, '\\', '\\\\'), '%', '\\%'), '_', '\\_') || '%' as text)
            select kind, id, label, detail
            from (
                select 'person' as kind, handle as id, name as label, handle as detail from person, wanted
                where name ilike text or handle ilike text
                union all
                select 'gateway', g.id::text, g.name, s.title from gateway g join site s on s.id = g.site_id, wanted
                where g.name ilike text or s.title ilike text
                union all
                select 'profile', id::text, label, state from profile, wanted
                where label ilike text and origin <> 'canary') hits
            order by kind, label
            limit ?""";

    public static List<Hit> find(Tx tx, String text, int limit) {
        return tx.list(
                FIND,
                p -> p.text(text).integer(limit),
                row -> new Hit(row.text("kind"), row.text("id"), row.text("label"), row.text("detail")));
    }
}
