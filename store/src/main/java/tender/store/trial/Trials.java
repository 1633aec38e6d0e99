package tender.store.trial;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.trial.Rung;
import tender.core.trial.Verdict;
import tender.store.jdbc.Conditions;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Params;
import tender.store.jdbc.Row;
import tender.store.jdbc.Slice;
import tender.store.jdbc.Tx;
import tender.store.profile.Whose;

/** Trials: what they are of, what they rest on, the rungs. What they were asked and what they showed are {@link TrialDocuments}. */
public final class Trials {
    /** A trial as it stands; one without a profile is of the listener itself. */
    public record Trial(
            UUID id,
            Optional<UUID> profileId,
            UUID listenerId,
            String label,
            Optional<String> person,
            String gateway,
            String protocol,
            String vantage,
            String subject,
            String restsOn,
            TrialState state,
            Optional<Rung> rung,
            Optional<Boolean> proven,
            List<TrialDocuments.Claim> claims,
            Optional<String> note,
            Optional<TrialDocuments.Asked> asked,
            Optional<TrialDocuments.Measured> measured,
            Instant createdAt,
            Optional<Instant> endedAt) {}

    /** One rung of a trial. */
    public record RungRow(
            UUID trialId,
            int position,
            Rung rung,
            Verdict verdict,
            long millis,
            String detail,
            List<TrialDocuments.Cause> causes) {}

    private Trials() {}

    private static final String ENSURE_VANTAGE =
            "insert into vantage (id, name, kind) values (?, ?, ?) on conflict (name) do nothing";
    private static final String INSERT = """
            insert into trial (id, profile_id, tried_profile_id, listener_id, vantage_id, subject, rests_on, state, wanted,
                               created_at)
            select ?, ?, ?, ?, id, ?, ?, 'waiting', ?::jsonb, ?
            from vantage
            where name = ?""";

    /**
     * A trial to be made: of a profile, or of a listener alone.
     *
     * @param asked what is to be measured; empty where nothing is
     */
    public record Order(
            UUID id,
            Optional<UUID> profileId,
            Optional<UUID> listenerId,
            String vantage,
            String vantageKind,
            String subject,
            String restsOn,
            Optional<TrialDocuments.Asked> asked) {}

    public static void insert(Tx tx, Order o, Instant now) {
        tx.update(ENSURE_VANTAGE, p -> p.id(Ids.next()).text(o.vantage()).text(o.vantageKind()));
        tx.updateOne(
                INSERT,
                p -> p.id(o.id())
                        .id(o.profileId())
                        .id(o.profileId())
                        .id(o.listenerId())
                        .text(o.subject())
                        .text(o.restsOn())
                        .text(o.asked().map(TrialDocuments.ASKED::write))
                        .instant(now)
                        .text(o.vantage()));
    }

    /** A place that trials are made from. */
    public record Vantage(String name, String kind, Optional<Instant> heardAt, long trials) {}

    private static final String VANTAGES = """
            select v.name, v.kind, v.heard_at, (select count(*) from trial t where t.vantage_id = v.id) as trials
            from vantage v
            where v.archived_at is null
            order by v.kind, v.name""";

    public static List<Vantage> vantages(Tx tx) {
        return tx.list(
                VANTAGES,
                p -> p,
                row -> new Vantage(
                        row.text("name"), row.text("kind"), row.optionalInstant("heard_at"), row.number("trials")));
    }

    private static final String HEARD = """
            insert into vantage (id, name, kind, heard_at) values (?, ?, 'standing', ?)
            on conflict (name) do update set heard_at = excluded.heard_at, archived_at = null""";

    /** A standing vantage asks for work. */
    public static void heard(Tx tx, String vantage, Instant now) {
        tx.update(HEARD, p -> p.id(Ids.next()).text(vantage).instant(now));
    }

    private static final String STANDING =
            "select heard_at from vantage where name = ? and kind = 'standing' and archived_at is null";

    /** When a standing vantage asked last; empty where there is none of the name. */
    public static Optional<Instant> heardAt(Tx tx, String vantage) {
        return tx.first(STANDING, p -> p.text(vantage), row -> row.instant("heard_at"));
    }

    /** Said with a standing vantage's name when a trial waits for it. */
    public static final String WAITING = "trial-waiting";

    private static final String TAKE = """
            update trial set state = 'running'
            where id = (
                select t.id from trial t join vantage v on v.id = t.vantage_id
                where v.name = ? and v.kind = 'standing' and t.state = 'waiting'
                order by t.created_at limit 1
                for update of t skip locked)
            returning id""";

    /** Takes the oldest trial that waits for a standing vantage; nobody else gets it then. */
    public static Optional<UUID> takeFor(Tx tx, String vantage) {
        return tx.first(TAKE, p -> p.text(vantage), row -> row.id("id"));
    }

    private static final String NOTE = "update trial set note = ? where id = ?";

    /** Replaces the trial's note. */
    public static void note(Tx tx, UUID id, String note) {
        tx.update(NOTE, p -> p.text(note).id(id));
    }

    private static final String RUNNING = """
            update trial
            set state = 'running', tried_profile_id = ?, rests_on = ?, note = ?,
                revision_id = ?
            where id = ? and state in ('waiting', 'running')""";

    /** @param revisionId the revision of the trial's profile that it speaks of */
    public static void running(
            Tx tx, UUID id, Optional<UUID> triedId, Optional<UUID> revisionId, String restsOn, Optional<String> note) {
        tx.updateOne(
                RUNNING,
                p -> p.id(triedId).text(restsOn).text(note).id(revisionId).id(id));
    }

    private static final String OF_REVISION = "update trial set revision_id = ? where id = ?";

    /** Notes which revision of its profile a trial speaks of. */
    public static void ofRevision(Tx tx, UUID id, UUID revisionId) {
        tx.updateOne(OF_REVISION, p -> p.id(revisionId).id(id));
    }

    private static final String AT = "update trial set rung = ? where id = ?";

    /** Says at which rung a running trial is. */
    public static void at(Tx tx, UUID id, Rung rung) {
        tx.update(AT, p -> p.text(rung.name()).id(id));
    }

    private static final String CLEAR = "delete from trial_rung where trial_id = ?";
    private static final String RUNG = """
            insert into trial_rung (trial_id, position, rung, verdict, millis, detail, causes)
            values (?, ?, ?, ?, ?, ?, ?::jsonb)""";
    private static final String END = """
            update trial
            set state = 'ended', rung = null, proven = ?, claims = ?::jsonb, profile_works = ?, received_then = ?,
                measured = ?::jsonb, ended_at = ?
            where id = ?""";

    /**
     * What a trial showed.
     *
     * @param all whether all that was asked for
     * @param profileWorks what it says of its profile; empty where nothing
     */
    public record Shown(boolean all, List<TrialDocuments.Claim> claims, Optional<Boolean> profileWorks) {}

    /**
     * How a trial ended.
     *
     * @param received the gateway's count of bytes from the tried key after the trial, where it was asked
     */
    public record Ending(
            UUID id,
            List<RungRow> rungs,
            Shown shown,
            Optional<Long> received,
            Optional<TrialDocuments.Measured> measured,
            Instant at) {}

    public static void end(Tx tx, Ending e) {
        UUID id = e.id();
        tx.update(CLEAR, p -> p.id(id));
        for (RungRow r : e.rungs()) {
            tx.updateOne(
                    RUNG,
                    p -> p.id(id)
                            .integer(r.position())
                            .text(r.rung().name())
                            .text(r.verdict().name())
                            .number(r.millis())
                            .text(r.detail())
                            .text(TrialDocuments.CAUSES.write(r.causes())));
        }
        tx.updateOne(
                END,
                p -> p.flag(e.shown().all())
                        .text(TrialDocuments.CLAIMS.write(e.shown().claims()))
                        .flag(e.shown().profileWorks())
                        .number(e.received())
                        .text(e.measured().map(TrialDocuments.MEASURED::write))
                        .instant(e.at())
                        .id(id));
    }

    private static final String FAIL =
            "update trial set state = 'failed', rung = null, note = ?, ended_at = ? where id = ?";

    /** Ends a trial that could not be made; says nothing of its profile. */
    public static void fail(Tx tx, UUID id, String why, Instant now) {
        tx.update(FAIL, p -> p.text(why).instant(now).id(id));
    }

    private static final String SELECT = """
            select t.id, t.profile_id, l.id as listener_id, coalesce(p.label, g.name || ' ' || l.name) as label,
                   n.name as person, g.name as gateway, l.protocol, v.name as vantage, t.subject, t.rests_on, t.state, t.rung, t.proven,
                   t.claims, t.note, t.wanted, t.measured, t.created_at, t.ended_at
            from trial t
            left join profile p on p.id = t.profile_id
            left join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            join listener l on l.id = coalesce(t.listener_id, pl.listener_id)
            join gateway g on g.id = l.gateway_id
            join vantage v on v.id = t.vantage_id
            left join device d on d.id = p.device_id
            left join person n on n.id = d.person_id
            """;
    private static final String BY_ID = SELECT + "where t.id = ?";
    private static final String RUNGS = """
            select trial_id, position, rung, verdict, millis, detail, causes
            from trial_rung
            where trial_id = any(?)
            order by trial_id, position""";

    private static final String OF_LISTENER = SELECT + "where l.id = ? order by t.id desc limit ?";

    /** The newest trials of a listener, with whatever profile they were made. */
    public static List<Trial> ofListener(Tx tx, UUID listenerId, int limit) {
        return tx.list(OF_LISTENER, p -> p.id(listenerId).integer(limit), Trials::trial);
    }

    public static Optional<Trial> byId(Tx tx, UUID id) {
        return tx.first(BY_ID, p -> p.id(id), Trials::trial);
    }

    /** What the list can be sorted by. */
    public static final Map<String, String> SORTS = Map.of(
            "profile", "select p.label from profile p where p.id = t.profile_id",
            "verdict", "t.profile_works",
            "when", "t.created_at");

    /** Newest first, or as asked for. */
    public static List<Trial> page(Tx tx, Whose whose, Slice<UUID> slice) {
        Conditions where = new Conditions();
        slice.narrow(where, "t.id < ?", Params::id);
        whose.narrow(tx, where, "t.profile_id");
        List<UUID> ids = tx.listPlanned(
                "select t.id from trial t where " + where.sql() + slice.end("t.id desc"),
                p -> slice.fill(where.fill(p)),
                row -> row.id("id"));
        return Ids.inOrder(ids, tx.list(SELECT + "where t.id = any(?)", p -> p.ids(ids), Trials::trial), Trial::id);
    }

    public static List<RungRow> rungs(Tx tx, Collection<UUID> trialIds) {
        return tx.list(
                RUNGS,
                p -> p.ids(trialIds),
                row -> new RungRow(
                        row.id("trial_id"),
                        row.integer("position"),
                        Rung.valueOf(row.text("rung")),
                        Verdict.valueOf(row.text("verdict")),
                        row.number("millis"),
                        row.text("detail"),
                        TrialDocuments.CAUSES.read(row.text("causes"))));
    }

    private static final String FORGET = """
            delete from trial
            where (profile_id = ? or listener_id = ?) and id not in (
                select id from trial where profile_id = ? or listener_id = ? order by created_at desc limit ?)""";

    /** Keeps the newest trials of a profile, or of a listener alone. */
    public static void keepNewest(Tx tx, UUID of, int kept) {
        tx.update(FORGET, p -> p.id(of).id(of).id(of).id(of).integer(kept));
    }

    /** What the newest trial with a key left behind on the gateway; empty {@code endedAt}: it is running. */
    public record Trace(
            UUID triedProfileId, Instant createdAt, Optional<Instant> endedAt, Optional<Long> receivedThen) {}

    private static final String TRACES = """
            select distinct on (tried_profile_id) tried_profile_id, created_at, ended_at, received_then
            from trial
            where tried_profile_id = any(?) and state <> 'waiting'
            order by tried_profile_id, created_at desc""";

    public static List<Trace> traces(Tx tx, Collection<UUID> profileIds) {
        return tx.list(
                TRACES,
                p -> p.ids(profileIds),
                row -> new Trace(
                        row.id("tried_profile_id"),
                        row.instant("created_at"),
                        row.optionalInstant("ended_at"),
                        row.optionalNumber("received_then")));
    }

    private static Trial trial(Row row) {
        return new Trial(
                row.id("id"),
                row.optionalId("profile_id"),
                row.id("listener_id"),
                row.text("label"),
                row.optionalText("person"),
                row.text("gateway"),
                row.text("protocol"),
                row.text("vantage"),
                row.text("subject"),
                row.text("rests_on"),
                TrialState.of(row.text("state")),
                row.optionalText("rung").map(Rung::valueOf),
                row.optionalFlag("proven"),
                TrialDocuments.CLAIMS.read(row.text("claims")),
                row.optionalText("note"),
                row.optionalText("wanted").map(TrialDocuments.ASKED::read),
                row.optionalText("measured").map(TrialDocuments.MEASURED::read),
                row.instant("created_at"),
                row.optionalInstant("ended_at"));
    }
}
