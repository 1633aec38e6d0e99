package tender.store.office;

import tender.store.jdbc.Tx;

/** What waits at each station of the line of work, in one statement. */
public final class Line {
    /** Counts; {@code unproven} are ready profiles with no proof that still stands. */
    public record Counts(
            long gateways,
            long unaccepted,
            long unreadable,
            long people,
            long profiles,
            long writing,
            long byHand,
            long failed,
            long notHandedOut,
            long handouts,
            long waitingToBeCollected,
            long unproven,
            long failing,
            long connected,
            long neverSeen,
            long backups,
            long withoutBackup) {}

    private Line() {}

    private static final String COUNTS = """
            with newest as (
                select distinct on (profile_id) profile_id, id, number from profile_revision order by profile_id, number desc),
            given as (
                select h.profile_id, min(c.at) as collected
                from handout h
                join newest n on n.id = h.revision_id
                left join collection c on c.handout_id = h.id
                where h.withdrawn_at is null
                group by h.profile_id),
            seen as (
                select s.profile_id, bool_or(s.received > 0 and s.sent > 0
                           and (n.number = 1 or coalesce(s.last_heard >= date_trunc('second', g.collected), false))) as both_ways
                from session s
                join newest n on n.profile_id = s.profile_id
                left join given g on g.profile_id = s.profile_id
                group by s.profile_id),
            last_trial as (
                select distinct on (t.profile_id) t.profile_id, t.profile_works
                from trial t
                join newest n on n.id = t.revision_id
                where t.profile_works is not null
                order by t.profile_id, t.created_at desc),
            real as (
                select p.id, p.state, g.profile_id is not null as given, s.both_ways, t.profile_works
                from profile p
                left join given g on g.profile_id = p.id
                left join seen s on s.profile_id = p.id
                left join last_trial t on t.profile_id = p.id
                where p.origin <> 'canary')
            select (select count(*) from gateway) as gateways,
                   (select count(*) from gateway where not identity_accepted) as unaccepted,
                   (select count(*) from gateway where read_problem is not null) as unreadable,
                   (select count(*) from person) as people,
                   count(*) filter (where state in ('ready', 'writing')) as profiles,
                   count(*) filter (where state in ('writing', 'withdrawing')) as writing,
                   (select count(*) from instruction) as by_hand,
                   count(*) filter (where state = 'failed') as failed,
                   count(*) filter (where state = 'ready' and not given) as not_handed_out,
                   (select count(*) from handout where withdrawn_at is null) as handouts,
                   (select count(*) from handout h where withdrawn_at is null and expires_at > now()
                    and not exists (select 1 from collection c where c.handout_id = h.id)) as waiting_collection,
                   count(*) filter (where state = 'ready' and coalesce(profile_works, false) = false and coalesce(both_ways, false) = false) as unproven,
                   count(*) filter (where state = 'ready' and profile_works = false) as failing,
                   (select count(*) from session where ended_at is null) as connected,
                   count(*) filter (where state = 'ready' and given and both_ways is null) as never_seen,
                   (select count(*) from backup) as backups,
                   (select count(*) from gateway g where not exists (select 1 from backup b where b.gateway_id = g.id)) as without_backup
            from real""";

    public static Counts counts(Tx tx) {
        return tx.first(
                        COUNTS,
                        p -> p,
                        r -> new Counts(
                                r.number("gateways"),
                                r.number("unaccepted"),
                                r.number("unreadable"),
                                r.number("people"),
                                r.number("profiles"),
                                r.number("writing"),
                                r.number("by_hand"),
                                r.number("failed"),
                                r.number("not_handed_out"),
                                r.number("handouts"),
                                r.number("waiting_collection"),
                                r.number("unproven"),
                                r.number("failing"),
                                r.number("connected"),
                                r.number("never_seen"),
                                r.number("backups"),
                                r.number("without_backup")))
                .orElseThrow();
    }
}
