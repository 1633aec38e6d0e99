package tender.store.removal;

import java.time.Instant;
import java.util.List;
import java.util.UUID;
import tender.store.jdbc.Tx;

/**
 * Takes things out of every list and frees their names. Their history stays: who had which file, which certificates were revoked,
 * what was backed up.
 */
public final class Archive {
    private static final String OF_PERSON =
            "select p.label as it from profile p join device d on d.id = p.device_id where d.person_id = ? and p.state <> 'withdrawn' order by 1";
    private static final String OF_DEVICE =
            "select p.label as it from profile p where p.device_id = ? and p.state <> 'withdrawn' order by 1";
    private static final String AT_GATEWAY = """
            select p.label as it from profile p
            join profile_listener pl on pl.profile_id = p.id
            join listener l on l.id = pl.listener_id
            where l.gateway_id = ? and p.origin <> 'canary' and p.state in ('writing', 'waiting', 'ready') order by 1""";
    private static final String RELYING = """
            select g.name as it from gateway g
            where g.archived_at is null and (g.jump_id = ? or (select name from gateway where id = ?) = any(g.behind))
            order by 1""";
    private static final String AT_SITE =
            "select name as it from gateway where site_id = ? and archived_at is null order by 1";
    private static final String OF_TEAM =
            "select p.handle as it from person p join team t on t.id = p.team_id where t.name = ? and p.archived_at is null order by 1";
    private static final String DESCRIBED =
            "select name as it from gateway where ? = any(string_to_array(description, '+')) and archived_at is null order by 1";

    private static final String THERE =
            "(select pl.profile_id from profile_listener pl join listener l on l.id = pl.listener_id"
                    + " where l.gateway_id = ?)";

    private Archive() {}

    /** Labels of a person's profiles that are not withdrawn. */
    public static List<String> profilesOfPerson(Tx tx, UUID person) {
        return tx.list(OF_PERSON, p -> p.id(person), row -> row.text("it"));
    }

    /** Labels of a device's profiles that are not withdrawn. */
    public static List<String> profilesOfDevice(Tx tx, UUID device) {
        return tx.list(OF_DEVICE, p -> p.id(device), row -> row.text("it"));
    }

    /** Labels of the profiles that work at a gateway; canaries are nobody's. */
    public static List<String> profilesAt(Tx tx, UUID gateway) {
        return tx.list(AT_GATEWAY, p -> p.id(gateway), row -> row.text("it"));
    }

    /** Names of the gateways that stand behind one or are reached through it. */
    public static List<String> relyingOn(Tx tx, UUID gateway) {
        return tx.list(RELYING, p -> p.id(gateway).id(gateway), row -> row.text("it"));
    }

    /** Names of the gateways that Tender reaches through one. */
    public static List<String> reachedThrough(Tx tx, UUID gateway) {
        return tx.list(
                "select name as it from gateway where jump_id = ? and archived_at is null order by 1",
                p -> p.id(gateway),
                row -> row.text("it"));
    }

    public static List<String> gatewaysAt(Tx tx, UUID site) {
        return tx.list(AT_SITE, p -> p.id(site), row -> row.text("it"));
    }

    public static List<String> peopleOf(Tx tx, String team) {
        return tx.list(OF_TEAM, p -> p.text(team), row -> row.text("it"));
    }

    public static List<String> described(Tx tx, String description) {
        return tx.list(DESCRIBED, p -> p.text(description), row -> row.text("it"));
    }

    /** A person with their devices. */
    public static void person(Tx tx, UUID id, Instant now) {
        tx.update(
                "delete from file_request where device_id in (select id from device where person_id = ?)",
                p -> p.id(id));
        tx.update(
                "update device set archived_at = ? where person_id = ? and archived_at is null",
                p -> p.instant(now).id(id));
        tx.updateOne(
                "update person set archived_at = ?, team_id = null where id = ? and archived_at is null",
                p -> p.instant(now).id(id));
    }

    public static void device(Tx tx, UUID id, Instant now) {
        tx.update("delete from file_request where device_id = ?", p -> p.id(id));
        tx.updateOne(
                "update device set archived_at = ? where id = ? and archived_at is null",
                p -> p.instant(now).id(id));
    }

    public static void site(Tx tx, UUID id, Instant now) {
        tx.update("delete from site_network where site_id = ?", p -> p.id(id));
        tx.updateOne(
                "update site set archived_at = ? where id = ? and archived_at is null",
                p -> p.instant(now).id(id));
    }

    /** A gateway with its listeners: nothing is read, tried, written or wanted there any more. */
    public static void gateway(Tx tx, UUID id, Instant now) {
        tx.update(
                "delete from monitor where listener_id in (select id from listener where gateway_id = ?)",
                p -> p.id(id));
        tx.update("delete from desired_resource where gateway_id = ?", p -> p.id(id));
        tx.update("delete from finding where gateway_id = ?", p -> p.id(id));
        tx.update("delete from file_request where gateway_id = ?", p -> p.id(id));
        tx.update(
                "update device_change set state = 'cancelled', ended_at = now() where gateway_id = ? and state = 'by-hand'",
                p -> p.id(id));
        tx.update("delete from joined where one = ? or other = ?", p -> p.id(id).id(id));
        tx.update("delete from instruction where profile_id in " + THERE, p -> p.id(id));
        // canaries, and what was to be withdrawn at a device that answers nobody any more
        tx.update(
                "update profile set state = 'withdrawn' where state <> 'withdrawn' and id in " + THERE, p -> p.id(id));
        tx.update(
                "update listener set gone = true, active = false, missing_serials = '{}' where gateway_id = ?",
                p -> p.id(id));
        tx.updateOne(
                "update gateway set archived_at = ?, identity_accepted = false, read_problem = null, jump_id = null"
                        + " where id = ? and archived_at is null",
                p -> p.instant(now).id(id));
    }

    /** An operator: they sign in no more, and who did what stays known. */
    public static void operator(Tx tx, UUID id, Instant now) {
        tx.update("update person set operator_id = null where operator_id = ?", p -> p.id(id));
        tx.updateOne(
                "update operator set archived_at = ?, disabled_at = coalesce(disabled_at, ?), totp_secret = null,"
                        + " totp_confirmed = false, password_hash = '' where id = ? and archived_at is null",
                p -> p.instant(now).instant(now).id(id));
    }

    /** A team that nobody belongs to, with its grants. */
    public static boolean team(Tx tx, String name) {
        return tx.update("delete from team where name = ?", p -> p.text(name)) > 0;
    }

    /** A description of the company's own. */
    public static boolean description(Tx tx, String name) {
        return tx.update("delete from device_description where name = ?", p -> p.text(name)) > 0;
    }

    private static final String TRIALS_OF_VANTAGE = """
            select count(*) as n, count(*) filter (where t.state in ('waiting', 'running')) as open
            from trial t join vantage v on v.id = t.vantage_id
            where v.name = ?""";
    private static final String SIGNS_IN =
            "select exists (select 1 from operator where name = ? and role = 'vantage' and disabled_at is null) as may";
    private static final String ARCHIVE_VANTAGE =
            "update vantage set archived_at = ? where name = ? and kind = 'standing' and archived_at is null";

    /** Trials made from a vantage: all, and those that are not ended. */
    public record TrialsFrom(long all, long open) {}

    public static TrialsFrom trialsFrom(Tx tx, String vantage) {
        return tx.first(
                        TRIALS_OF_VANTAGE,
                        p -> p.text(vantage),
                        row -> new TrialsFrom(row.number("n"), row.number("open")))
                .orElseThrow();
    }

    /** Whether a vantage of this name could come back by itself. */
    public static boolean vantageSignsIn(Tx tx, String vantage) {
        return tx.first(SIGNS_IN, p -> p.text(vantage), row -> row.flag("may")).orElseThrow();
    }

    public static void vantage(Tx tx, String name, Instant now) {
        tx.update(ARCHIVE_VANTAGE, p -> p.instant(now).text(name));
    }
}
