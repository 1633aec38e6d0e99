package tender.store.overview;

import java.util.List;
import tender.store.jdbc.Like;
import tender.store.jdbc.Tx;
import tender.store.profile.Standings;

/** Finds people, gateways and profiles by part of a name, in one statement. */
public final class Search {
    /** A hit; {@code id} is what the thing's page is addressed by. */
    public record Hit(String kind, String id, String label, String detail) {}

    private Search() {}

    private static final String FIND = """
            select kind, id, label, detail
            from (
                (select 'gateway' as kind, g.id::text as id, g.name as label, t.title as detail
                 from gateway g join site t on t.id = g.site_id
                 where g.archived_at is null and (g.name ilike ? or t.title ilike ?) order by g.name limit ?)
                union all
                (select 'person', handle, name, handle from person
                 where archived_at is null and (name ilike ? or handle ilike ?) order by name limit ?)
                union all
                (select 'profile', profile_id::text, label, state from profile_standing
                 where label ilike ? order by label limit ?)) hits
            order by kind, label
            limit ?""";

    /**
     * @param text a part of a name; signs of patterns stand for themselves
     */
    public static List<Hit> find(Tx tx, String text, int limit) {
        Standings.refresh(tx);
        String like = Like.containing(text);
        return tx.listPlanned(
                FIND,
                p -> p.text(like)
                        .text(like)
                        .integer(limit)
                        .text(like)
                        .text(like)
                        .integer(limit)
                        .text(like)
                        .integer(limit)
                        .integer(limit),
                row -> new Hit(row.text("kind"), row.text("id"), row.text("label"), row.text("detail")));
    }
}
