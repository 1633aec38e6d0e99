package tender.store.overview;

import tender.store.jdbc.Tx;
import tender.store.profile.Standings;

/** What waits at each station of the line of work. */
public final class Line {
    /**
     * Counts; {@code unproven} are ready profiles with no proof that still stands, {@code notRefused} those of people who left that
     * nothing has shown to be refused.
     */
    public record Counts(
            long gateways,
            long unaccepted,
            long unreadable,
            long profiles,
            long writing,
            long byHand,
            long requestedFiles,
            long notRefused,
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
            select (select count(*) from gateway where archived_at is null) as gateways,
                   (select count(*) from gateway where archived_at is null and not identity_accepted) as unaccepted,
                   (select count(*) from gateway where read_problem is not null) as unreadable,
                   coalesce(sum(profiles) filter (where state in ('ready', 'writing')), 0)::bigint as profiles,
                   coalesce(sum(profiles) filter (where state in ('writing', 'withdrawing')), 0)::bigint as writing,
                   (select count(*) from instruction)
                   + (select count(*) from device_change where state = 'by-hand') as by_hand,
                   (select count(*) from file_request) as requested_files,
                   (select count(*) from refusal where state = 'open') as not_refused,
                   coalesce(sum(profiles) filter (where state = 'failed'), 0)::bigint as failed,
                   coalesce(sum(profiles) filter (where state = 'ready' and not handed_out), 0)::bigint as not_handed_out,
                   coalesce(sum(handouts), 0)::bigint as handouts,
                   (select count(*) from handout
                    where withdrawn_at is null and collections_left = collections_allowed and expires_at > now()) as waiting_collection,
                   coalesce(sum(profiles) filter (where state = 'ready' and works <> 'yes' and both_ways <> 'yes'), 0)::bigint as unproven,
                   coalesce(sum(profiles) filter (where state = 'ready' and works = 'no'), 0)::bigint as failing,
                   (select count(*) from session where ended_at is null) as connected,
                   coalesce(sum(profiles) filter (where state = 'ready' and handed_out and both_ways = 'unknown'), 0)::bigint as never_seen,
                   (select count(*) from backup) as backups,
                   (select count(*) from gateway g where g.archived_at is null and not exists (select 1 from backup b where b.gateway_id = g.id)) as without_backup
            from profile_standing_count""";

    public static Counts counts(Tx tx) {
        Standings.refresh(tx);
        return tx.first(
                        COUNTS,
                        p -> p,
                        r -> new Counts(
                                r.number("gateways"),
                                r.number("unaccepted"),
                                r.number("unreadable"),
                                r.number("profiles"),
                                r.number("writing"),
                                r.number("by_hand"),
                                r.number("requested_files"),
                                r.number("not_refused"),
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
