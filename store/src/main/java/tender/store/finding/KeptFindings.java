package tender.store.finding;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Like;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** Findings as they were judged last, each under the scope that it depends on. */
public final class KeptFindings {
    /**
     * A finding to be kept.
     *
     * @param rank where it stands, the worst first
     * @param gatewayId the gateway that it concerns
     * @param fixChange JSON of the one change that fixes it, to be made at the gateway {@code fixGateway}
     * @param oneStep the same in words
     */
    public record Draft(
            String scope,
            int rank,
            String key,
            String code,
            String severity,
            String subjectKind,
            String subjectId,
            String subject,
            String evidence,
            String breaks,
            String remedy,
            Optional<UUID> gatewayId,
            Optional<String> fixGateway,
            Optional<String> fixChange,
            Optional<String> oneStep) {}

    /**
     * A kept finding, with the acceptance that counts now.
     *
     * @param gateway the name of the gateway that it concerns
     */
    public record Kept(
            long id,
            String key,
            String code,
            String severity,
            String subjectKind,
            String subjectId,
            String subject,
            String evidence,
            String breaks,
            String remedy,
            Optional<String> gateway,
            Optional<String> fixGateway,
            Optional<String> fixChange,
            Optional<String> oneStep,
            Optional<String> acceptedReason,
            Optional<Instant> acceptedUntil) {}

    /**
     * Which findings are wanted.
     *
     * @param gateway those that concern a gateway, by its name or id
     * @param open only those that nobody accepted
     * @param severity error, warning or notice
     * @param code of the rule
     * @param text a part of the subject
     */
    public record Filter(
            Optional<String> gateway,
            boolean open,
            Optional<String> severity,
            Optional<String> code,
            Optional<String> text) {
        public static final Filter ALL =
                new Filter(Optional.empty(), false, Optional.empty(), Optional.empty(), Optional.empty());
    }

    /** Asks whoever judges to judge what has changed until now; answered with {@link #JUDGED} and the same id. */
    public static final String WANTED = "findings-wanted";

    public static final String JUDGED = "findings-judged";

    private KeptFindings() {}

    private static final String DROP =
            "delete from finding where scope = ? and key = ? and evidence = ? and remedy = ?";
    private static final String DROP_ALL = "delete from finding";
    private static final String INSERT = """
            insert into finding (scope, rank, key, code, severity, subject_kind, subject_id, subject, evidence, breaks, remedy,
                                 gateway_id, fix_gateway, fix_change, one_step)
            values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, (select id from gateway where id = ?), ?, ?::jsonb, ?)""";

    /** Takes out findings that are found no more, and adds others. */
    public static void change(Tx tx, List<Draft> gone, List<Draft> come) {
        gone.forEach(f -> tx.later(
                DROP, p -> p.text(f.scope()).text(f.key()).text(f.evidence()).text(f.remedy())));
        insert(tx, come);
    }

    /** Puts what was found in the place of everything that stood there. */
    public static void replaceAll(Tx tx, List<Draft> found) {
        tx.update(DROP_ALL, p -> p);
        insert(tx, found);
    }

    private static void insert(Tx tx, List<Draft> found) {
        found.forEach(f -> tx.later(
                INSERT,
                p -> p.text(f.scope())
                        .integer(f.rank())
                        .text(f.key())
                        .text(f.code())
                        .text(f.severity())
                        .text(f.subjectKind())
                        .text(f.subjectId())
                        .text(f.subject())
                        .text(f.evidence())
                        .text(f.breaks())
                        .text(f.remedy())
                        .id(f.gatewayId())
                        .text(f.fixGateway())
                        .text(f.fixChange())
                        .text(f.oneStep())));
    }

    private static final String SELECT = """
            select f.id, f.key, f.code, f.severity, f.subject_kind, f.subject_id, f.subject, f.evidence, f.breaks, f.remedy,
                   g.name as gateway, f.fix_gateway, f.fix_change::text as fix_change, f.one_step, a.reason, a.until
            from finding f
            left join gateway g on g.id = f.gateway_id
            left join accepted_finding a on a.key = f.key and a.until > ?
            """;
    private static final String ORDER =
            "(a.key is not null), f.rank, f.subject collate \"C\", f.evidence collate \"C\", f.id";
    private static final String PAGE = SELECT + """
            where (?::text is null or f.gateway_id = (select id from gateway where (name = ? or id::text = ?) and archived_at is null))
              and (not ? or a.key is null) and (?::text is null or f.severity = ?) and (?::text is null or f.code = ?)
              and (?::text is null or f.subject ilike ?)
              and (? = 0 or (\s""" + ORDER + """
            ) > (select (b.key is not null), e.rank, e.subject collate "C", e.evidence collate "C", e.id
                 from finding e left join accepted_finding b on b.key = e.key and b.until > ?
                 where e.id = ?))
            order by\s""" + ORDER + """

            limit ?""";

    /**
     * A page of findings: the worst first, those that somebody accepted last.
     *
     * @param after the id of the last one of the page before; 0 for the first page
     */
    public static List<Kept> page(Tx tx, Instant now, Filter filter, long after, int limit) {
        return tx.list(
                PAGE,
                p -> p.instant(now)
                        .text(filter.gateway())
                        .text(filter.gateway())
                        .text(filter.gateway())
                        .flag(filter.open())
                        .text(filter.severity())
                        .text(filter.severity())
                        .text(filter.code())
                        .text(filter.code())
                        .text(filter.text())
                        .text(filter.text().map(Like::containing))
                        .number(after)
                        .instant(now)
                        .number(after)
                        .integer(limit),
                KeptFindings::kept);
    }

    private static final String WORST = SELECT + """
            where a.key is null
            order by f.rank, f.subject collate "C", f.evidence collate "C", f.id
            limit ?""";
    private static final String BY_KEY = SELECT + "where f.key = ? order by f.id limit 1";

    /** The worst that nobody accepted; an index gives them in their order. */
    public static List<Kept> worst(Tx tx, Instant now, int limit) {
        return tx.list(WORST, p -> p.instant(now).integer(limit), KeptFindings::kept);
    }

    public static Optional<Kept> byKey(Tx tx, Instant now, String key) {
        return tx.first(BY_KEY, p -> p.instant(now).text(key), KeptFindings::kept);
    }

    private static final String OPEN = """
            select count(*) as n from finding f
            where not exists (select 1 from accepted_finding a where a.key = f.key and a.until > ?)""";

    /** How many nobody has accepted. */
    public static long open(Tx tx, Instant now) {
        return tx.first(OPEN, p -> p.instant(now), row -> row.number("n")).orElse(0L);
    }

    /** How many findings that nobody accepted concern a gateway, by severity. */
    public record Count(UUID gatewayId, int errors, int warnings, int notices) {
        public int all() {
            return errors + warnings + notices;
        }
    }

    private static final String COUNTS = """
            select f.gateway_id, count(*) filter (where f.severity = 'error') as errors,
                   count(*) filter (where f.severity = 'warning') as warnings,
                   count(*) filter (where f.severity = 'notice') as notices
            from finding f
            where f.gateway_id = any(?)
              and not exists (select 1 from accepted_finding a where a.key = f.key and a.until > ?)
            group by f.gateway_id""";

    public static List<Count> counts(Tx tx, Instant now, Collection<UUID> gatewayIds) {
        return tx.list(
                COUNTS,
                p -> p.ids(gatewayIds).instant(now),
                row -> new Count(
                        row.id("gateway_id"), row.integer("errors"), row.integer("warnings"), row.integer("notices")));
    }

    private static final String OF_CODES =
            SELECT + "where f.code = any(?::text[]) order by f.rank, f.subject collate \"C\", f.id";

    public static List<Kept> ofCodes(Tx tx, Instant now, Collection<String> codes) {
        return tx.list(OF_CODES, p -> p.instant(now).texts(codes), KeptFindings::kept);
    }

    private static Kept kept(Row row) {
        return new Kept(
                row.number("id"),
                row.text("key"),
                row.text("code"),
                row.text("severity"),
                row.text("subject_kind"),
                row.text("subject_id"),
                row.text("subject"),
                row.text("evidence"),
                row.text("breaks"),
                row.text("remedy"),
                row.optionalText("gateway"),
                row.optionalText("fix_gateway"),
                row.optionalText("fix_change"),
                row.optionalText("one_step"),
                row.optionalText("reason"),
                row.optionalInstant("until"));
    }
}
