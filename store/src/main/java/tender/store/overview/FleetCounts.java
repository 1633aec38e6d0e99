package tender.store.overview;

import java.util.List;
import tender.store.jdbc.Tx;

/** Counts of the whole installation for monitoring: few rows, whatever the size of the fleet. */
public final class FleetCounts {
    /** How many there are of one kind and another. */
    public record Count(String one, String other, long n) {}

    /**
     * @param jobs not ended, by kind and state
     * @param trials ended within the last hour, by kind of vantage and result
     * @param findings by severity, and whether somebody accepted them
     * @param gateways by whether they answer, and whether they are managed for reading only
     */
    public record All(List<Count> jobs, List<Count> trials, List<Count> findings, List<Count> gateways) {}

    private FleetCounts() {}

    private static final String JOBS = """
            select kind as one, state as other, count(*) as n from job
            where state in ('waiting', 'running') group by kind, state order by kind, state""";
    private static final String TRIALS = """
            select v.kind as one, case when t.proven then 'proven' else 'not proven' end as other, count(*) as n
            from trial t join vantage v on v.id = t.vantage_id
            where t.ended_at > now() - interval '1 hour' group by 1, 2 order by 1, 2""";
    private static final String FINDINGS = """
            select f.severity as one, (a.key is not null)::text as other, count(*) as n
            from finding f left join accepted_finding a on a.key = f.key and a.until > now()
            group by 1, 2 order by 1, 2""";
    private static final String GATEWAYS = """
            select case when not identity_accepted then 'identity to accept'
                        when read_problem is not null then 'does not answer'
                        when read_at is null then 'not read yet'
                        else 'answers' end as one,
                   read_only::text as other, count(*) as n
            from gateway where archived_at is null group by 1, 2 order by 1, 2""";

    public static All of(Tx tx) {
        return new All(counts(tx, JOBS), counts(tx, TRIALS), counts(tx, FINDINGS), counts(tx, GATEWAYS));
    }

    private static List<Count> counts(Tx tx, String sql) {
        return tx.list(sql, p -> p, row -> new Count(row.text("one"), row.text("other"), row.number("n")));
    }
}
