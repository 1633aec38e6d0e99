package tender.store.profile;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.store.jdbc.Conditions;
import tender.store.jdbc.Like;
import tender.store.jdbc.Params;
import tender.store.jdbc.Slice;
import tender.store.jdbc.Tx;

/**
 * One narrow row for each profile that is not a canary: what lists filter by and what the overview counts. Triggers note which
 * rows are due; whoever reads works those out first, so that a reader sees all that was committed before.
 */
public final class Standings {
    /** Profiles that somebody has to do something about. */
    public enum Open {
        /** Ready, and its newest revision is not handed out. */
        NOT_HANDED_OUT("not-handed-out", "s.state = 'ready' and not s.handed_out"),
        /** Handed out, and no session was ever seen. */
        NEVER_SEEN("never-seen", "s.state = 'ready' and s.handed_out and s.both_ways is null"),
        /** Ready, and neither a trial nor a session shows that it works. */
        UNPROVEN("unproven", "s.state = 'ready' and s.works is not true and s.both_ways is not true"),
        /** Ready, and its last trial failed. */
        FAILING("failing", "s.state = 'ready' and s.works = false");

        private final String word;
        private final String condition;

        Open(String word, String condition) {
            this.word = word;
            this.condition = condition;
        }

        public String word() {
            return word;
        }
    }

    /**
     * Which profiles are listed; what is empty does not narrow.
     *
     * @param text a part of the label, or of the person's name or handle
     * @param team its name
     * @param site its name
     * @param handedOut only those whose newest revision is handed out
     */
    public record Filter(
            Optional<String> text,
            Optional<UUID> gateway,
            Optional<String> site,
            Optional<UUID> person,
            Optional<String> team,
            Set<ProfileState> states,
            boolean handedOut,
            Optional<Open> open) {
        public static final Filter ALL = new Filter(
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Set.of(),
                false,
                Optional.empty());

        public static Filter open(Open open) {
            return new Filter(
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Set.of(),
                    false,
                    Optional.of(open));
        }
    }

    private Standings() {}

    private static final String IS_DUE = "select exists (select 1 from profile_standing_due) as due";
    /** One at a time: whoever comes second finds nothing due, or works out what was committed since. */
    private static final String LOCK = "select pg_advisory_xact_lock(7305006)::text as locked";

    private static final String WORK_OUT = """
            with due as (delete from profile_standing_due returning profile_id)
            insert into profile_standing
                   (profile_id, label, state, listener_id, gateway_id, person_id, team_id, handed_out, handouts,
                    both_ways, works)
            select p.id, p.label, p.state, pl.listener_id, l.gateway_id, d.person_id, n.team_id,
                   h.handed_out or k.held, h.handouts,
                   (select bool_or(s.received > 0 and s.sent > 0
                                   and (r.number = 1
                                        or coalesce(s.last_heard >= date_trunc('second', h.collected), false)))
                    from session s where s.profile_id = p.id),
                   coalesce(
                       (select t.profile_works from trial t
                        where t.profile_id = p.id and t.revision_id = r.id and t.profile_works is not null
                        order by t.created_at desc limit 1),
                       k.proven)
            from (select distinct profile_id from due) x
            join profile p on p.id = x.profile_id and p.origin <> 'canary'
            join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            join listener l on l.id = pl.listener_id
            left join device d on d.id = p.device_id
            left join person n on n.id = d.person_id
            left join lateral (
                select v.id, v.number from profile_revision v where v.profile_id = p.id
                order by v.number desc limit 1) r on true
            cross join lateral (
                select count(*)::int as handouts, count(*) filter (where g.revision_id = r.id) > 0 as handed_out,
                       min((select min(c.at) from collection c where c.handout_id = g.id))
                           filter (where g.revision_id = r.id) as collected
                from handout g
                where g.profile_id = p.id and g.withdrawn_at is null) h
            cross join lateral (
                select count(*) > 0 as held, bool_or(y.proven) as proven
                from delivery y
                where y.profile_id = p.id and y.held_revision = r.number) k
            on conflict (profile_id) do update
            set label = excluded.label, state = excluded.state, listener_id = excluded.listener_id,
                gateway_id = excluded.gateway_id, person_id = excluded.person_id, team_id = excluded.team_id,
                handed_out = excluded.handed_out, handouts = excluded.handouts, both_ways = excluded.both_ways, works = excluded.works""";

    /** Works out the rows that are due. Readers call it before they read; writers never need to. */
    public static void refresh(Tx tx) {
        boolean due = tx.first(IS_DUE, p -> p, row -> row.flag("due")).orElseThrow();
        if (due) {
            tx.list(LOCK, p -> p, row -> row.text("locked"));
            tx.update(WORK_OUT, p -> p);
        }
    }

    /** What the list can be sorted by. */
    public static final Map<String, String> SORTS = Map.of(
            "label", "s.label",
            "person", "select n.name from person n where n.id = s.person_id",
            "gateway", "select g.name from gateway g where g.id = s.gateway_id",
            "state", "s.state",
            "handout", "s.handed_out",
            "proof", "coalesce(s.works, s.both_ways)");

    /** Ids of the profiles that a filter leaves, by label or as asked for. */
    public static List<UUID> page(Tx tx, Filter filter, Slice<String> slice) {
        refresh(tx);
        Conditions where = new Conditions();
        slice.narrow(where, "s.label > ?", Params::text);
        filter.gateway().ifPresent(id -> where.and("s.gateway_id = ?", p -> p.id(id)));
        filter.person().ifPresent(id -> where.and("s.person_id = ?", p -> p.id(id)));
        filter.team()
                .ifPresent(name -> where.and("s.team_id = (select id from team where name = ?)", p -> p.text(name)));
        filter.site()
                .ifPresent(name -> where.and(
                        "s.gateway_id in (select g.id from gateway g join site t on t.id = g.site_id where t.name = ?)",
                        p -> p.text(name)));
        if (!filter.states().isEmpty()) {
            where.and("s.state = any(?)", p -> p.texts(ProfileState.words(filter.states())));
        }
        if (filter.handedOut()) {
            where.and("s.handed_out", p -> p);
        }
        filter.open().ifPresent(open -> where.and(open.condition, p -> p));
        filter.text().ifPresent(text -> text(where, text));
        return tx.listPlanned(
                "select s.profile_id from profile_standing s where " + where.sql() + slice.end("s.label"),
                p -> slice.fill(where.fill(p)),
                row -> row.id("profile_id"));
    }

    /**
     * Narrows another list to rows whose profile's label, or whose person's name or handle, contains the text.
     *
     * @param profile the list's column that holds the profile's id
     */
    public static void text(Tx tx, Conditions where, String profile, Optional<String> text) {
        if (text.isPresent()) {
            refresh(tx);
            String like = Like.containing(text.get());
            where.and(
                    profile + " in (" + FITTING + ")",
                    p -> p.text(like).text(like).text(like));
        }
    }

    /**
     * Three characters and more are found by an index, anywhere in a name. Fewer would be in most names: they are what a
     * label begins with. Labels are in lower case.
     */
    private static void text(Conditions where, String text) {
        if (text.length() < 3) {
            where.and("s.label like ?", p -> p.text(Like.beginning(text.toLowerCase(Locale.ROOT))));
            return;
        }
        String like = Like.containing(text);
        where.and(
                "s.profile_id in (" + FITTING + ")",
                p -> p.text(like).text(like).text(like));
    }

    private static final String FITTING = """
            select profile_id from profile_standing where label ilike ?
            union
            select o.profile_id from profile_standing o join person n on n.id = o.person_id
            where n.name ilike ? or n.handle ilike ?""";

    private static final String HANDED_OUT = """
            select g.name || ' ' || l.name as listener, c.n
            from (select listener_id, count(*) as n from profile_standing
                  where state = 'ready' and handed_out group by listener_id) c
            join listener l on l.id = c.listener_id
            join gateway g on g.id = l.gateway_id""";

    /** How many ready profiles are handed out, by the gateway's and the listener's name with a space between. */
    public static Map<String, Long> handedOut(Tx tx) {
        refresh(tx);
        Map<String, Long> out = new HashMap<>();
        tx.list(HANDED_OUT, p -> p, row -> out.put(row.text("listener"), row.number("n")));
        return out;
    }
}
