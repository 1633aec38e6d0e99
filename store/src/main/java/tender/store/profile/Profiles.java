package tender.store.profile;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.credential.ClientIdentity;
import tender.core.credential.CredentialKind;
import tender.core.credential.Custody;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.office.HandWork;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Row;
import tender.store.jdbc.Slice;
import tender.store.jdbc.Tx;

/** Profiles with their first listener; the tunnel addresses they keep. */
public final class Profiles {
    /** A profile to be made. */
    public record Draft(
            UUID id,
            Optional<UUID> deviceId,
            String label,
            ProfileOrigin origin,
            UUID listenerId,
            UUID keyId,
            Optional<UUID> presharedId,
            Optional<UUID> accountId,
            List<Cidr> reach,
            boolean fullTunnel,
            List<IpAddress> dns,
            boolean takesPushed,
            List<IpAddress> addresses,
            Instant createdAt) {}

    /** A profile as lists show it. Proof columns: when a trial last proved it, when a session was last seen. */
    public record Profile(
            UUID id,
            String label,
            ProfileOrigin origin,
            ProfileState state,
            Optional<String> problem,
            Optional<UUID> deviceId,
            Optional<String> device,
            Optional<UUID> personId,
            Optional<String> person,
            Optional<String> personName,
            UUID listenerId,
            String listener,
            UUID gatewayId,
            String gateway,
            UUID keyId,
            Optional<UUID> presharedId,
            Optional<Accounts.Ref> account,
            ClientIdentity identity,
            Custody custody,
            List<Cidr> reach,
            boolean fullTunnel,
            List<IpAddress> dns,
            boolean takesPushed,
            List<IpAddress> addresses,
            int revision,
            Optional<Instant> provenAt,
            Optional<String> proofRestsOn,
            Optional<Integer> provenRevision,
            Optional<Boolean> lastTrialWorks,
            Optional<Instant> lastTrialAt,
            Optional<Instant> lastHeard,
            boolean connected,
            boolean seenBothWays,
            Optional<String> handoutState,
            Optional<HandWork> handWork,
            Optional<String> handWorkOn,
            Instant createdAt,
            int version) {}

    private Profiles() {}

    private static final String INSERT = """
            insert into profile (id, device_id, label, origin, state, created_at)
            values (?, ?, ?, ?, 'writing', ?)""";
    private static final String INSERT_LISTENER = """
            insert into profile_listener (profile_id, position, listener_id, key_id, preshared_id, account_id, reach, full_tunnel, dns,
                                          takes_pushed)
            values (?, 0, ?, ?, ?, ?, ?::text[]::cidr[], ?, ?::text[]::inet[], ?)""";
    private static final String INSERT_ADDRESS =
            "insert into tunnel_address (listener_id, address, profile_id) values (?, ?::inet, ?)";

    /**
     * Writes a profile that waits to be written at its gateway. Its credentials may be written after it in the same transaction.
     *
     * @throws tender.store.jdbc.ConflictException at the commit, where label or address is taken
     */
    public static void insert(Tx tx, Draft d) {
        tx.later(
                INSERT,
                p -> p.id(d.id())
                        .id(d.deviceId())
                        .text(d.label())
                        .text(d.origin().word())
                        .instant(d.createdAt()));
        tx.later(
                INSERT_LISTENER,
                p -> p.id(d.id())
                        .id(d.listenerId())
                        .id(d.keyId())
                        .id(d.presharedId())
                        .id(d.accountId())
                        .texts(d.reach())
                        .flag(d.fullTunnel())
                        .texts(d.dns())
                        .flag(d.takesPushed()));
        d.addresses()
                .forEach(a -> tx.later(
                        INSERT_ADDRESS,
                        p -> p.id(d.listenerId()).text(a.toString()).id(d.id())));
    }

    private static final String SELECT = """
            select p.id, p.label, p.origin, p.state, p.problem, p.device_id, d.name as device, n.id as person_id, n.handle as person,
                   n.name as person_name, pl.listener_id, l.name as listener, g.id as gateway_id, g.name as gateway, pl.key_id,
                   pl.preshared_id, ac.name as account, ac.credential_id as account_credential, k.kind as credential_kind,
                   k.public_part, k.custody, pl.reach::text[] as reach, pl.full_tunnel,
                   array(select host(a) from unnest(pl.dns) as a) as dns, pl.takes_pushed,
                   array(select host(address) from tunnel_address a where a.profile_id = p.id order by address) as addresses,
                   coalesce(nr.number, 0) as revision,
                   pt.ended_at as proven_at, pt.rests_on as proof_rests_on, pt.number as proven_revision,
                   lt.profile_works as last_trial_works, lt.ended_at as last_trial_at,
                   ls.last_heard, ls.ended_at is null and ls.id is not null as connected,
                   coalesce(ls.received > 0 and ls.sent > 0 and (nr.number < 2 or h.state = 'in use'), false)
                       as both_ways,
                   h.state as handout_state, i.kind as hand_work, i.what as hand_work_on, p.created_at, p.version
            from profile p
            join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            join listener l on l.id = pl.listener_id
            join gateway g on g.id = l.gateway_id
            join credential k on k.id = pl.key_id
            left join account ac on ac.id = pl.account_id
            left join device d on d.id = p.device_id
            left join person n on n.id = d.person_id
            left join instruction i on i.profile_id = p.id
            left join lateral (
                select r.id, r.number, r.created_at from profile_revision r
                where r.profile_id = p.id
                order by r.number desc limit 1) nr on true
            left join lateral (
                select t.ended_at, t.rests_on, r.number from trial t join profile_revision r on r.id = t.revision_id
                where t.profile_id = p.id and t.profile_works
                order by t.created_at desc limit 1) pt on true
            left join lateral (
                select t.profile_works, t.ended_at from trial t
                where t.profile_id = p.id and t.revision_id = nr.id and t.profile_works is not null
                order by t.created_at desc limit 1) lt on true
            left join lateral (
                select s.id, s.last_heard, s.ended_at, s.received, s.sent from session s
                where s.profile_id = p.id
                order by s.since desc limit 1) ls on true
            left join lateral (
                select case when h.withdrawn_at is not null then 'withdrawn'
                            when c.at is not null and ls.last_heard >= date_trunc('second', c.at) then 'in use'
                            when c.at is not null then 'collected'
                            when h.expires_at < now() then 'expired'
                            when h.sent_at is not null then 'sent'
                            else 'prepared' end as state
                from handout h
                left join lateral (select min(at) as at from collection where handout_id = h.id) c on true
                where h.profile_id = p.id and h.revision_id = nr.id
                order by h.prepared_at desc limit 1) h on true
            """;
    private static final String BY_ID = SELECT + "where p.id = ?";
    private static final String BY_LABEL = SELECT + "where p.label = ?";
    private static final String OF_PERSON = SELECT + "where n.id = ? order by p.label";
    private static final String CANARY =
            SELECT + "where p.origin = 'canary' and pl.listener_id = ? and p.state in ('writing', 'ready')";
    private static final String BY_IDS = SELECT + "where p.id = any(?)";

    /** A page of what a filter leaves, by label or as asked for. */
    public static List<Profile> page(Tx tx, Standings.Filter filter, Slice<String> slice) {
        List<UUID> ids = Standings.page(tx, filter, slice);
        return Ids.inOrder(ids, byIds(tx, ids), Profile::id);
    }

    public static Optional<Profile> byId(Tx tx, UUID id) {
        return tx.first(BY_ID, p -> p.id(id), Profiles::profile);
    }

    public static List<Profile> byIds(Tx tx, Collection<UUID> ids) {
        return tx.list(BY_IDS, p -> p.ids(ids), Profiles::profile);
    }

    public static Optional<Profile> byLabel(Tx tx, String label) {
        return tx.first(BY_LABEL, p -> p.text(label), Profiles::profile);
    }

    public static List<Profile> ofPerson(Tx tx, UUID personId) {
        return tx.list(OF_PERSON, p -> p.id(personId), Profiles::profile);
    }

    /** The profile of Tender's own by which a listener is tried; empty where none is in use. */
    public static Optional<Profile> canary(Tx tx, UUID listenerId) {
        return tx.first(CANARY, p -> p.id(listenerId), Profiles::profile);
    }

    private static Profile profile(Row row) {
        return new Profile(
                row.id("id"),
                row.text("label"),
                ProfileOrigin.of(row.text("origin")),
                ProfileState.of(row.text("state")),
                row.optionalText("problem"),
                row.optionalId("device_id"),
                row.optionalText("device"),
                row.optionalId("person_id"),
                row.optionalText("person"),
                row.optionalText("person_name"),
                row.id("listener_id"),
                row.text("listener"),
                row.id("gateway_id"),
                row.text("gateway"),
                row.id("key_id"),
                row.optionalId("preshared_id"),
                row.optionalId("account_credential").map(id -> new Accounts.Ref(row.text("account"), id)),
                ClientIdentity.of(CredentialKind.valueOf(row.text("credential_kind")), row.text("public_part")),
                Custody.valueOf(row.text("custody")),
                row.texts("reach").stream().map(Cidr::parse).toList(),
                row.flag("full_tunnel"),
                row.texts("dns").stream().map(IpAddress::parse).toList(),
                row.flag("takes_pushed"),
                row.texts("addresses").stream().map(IpAddress::parse).toList(),
                row.integer("revision"),
                row.optionalInstant("proven_at"),
                row.optionalText("proof_rests_on"),
                row.optionalNumber("proven_revision").map(Long::intValue),
                row.optionalFlag("last_trial_works"),
                row.optionalInstant("last_trial_at"),
                row.optionalInstant("last_heard"),
                row.flag("connected"),
                row.flag("both_ways"),
                row.optionalText("handout_state"),
                row.optionalText("hand_work").map(HandWork::of),
                row.optionalText("hand_work_on"),
                row.instant("created_at"),
                row.integer("version"));
    }

    private static final String FOLLOWING = SELECT + """
            join team m on m.id = n.team_id
            where pl.listener_id = ? and m.name = ? and not pl.explicit and p.origin = 'issued' and p.state = 'ready'
            order by p.label""";

    /** A team's profiles at a listener that follow its rules. */
    public static List<Profile> following(Tx tx, UUID listenerId, String team) {
        return tx.list(FOLLOWING, p -> p.id(listenerId).text(team), Profiles::profile);
    }

    private static final String STATE = """
            update profile
            set state = ?, problem = ?, version = version + 1
            where id = any(?) and state = any(?)""";

    /** Moves profiles on, those of them that are in one of the given states. */
    public static int move(
            Tx tx, Collection<UUID> ids, Set<ProfileState> from, ProfileState to, Optional<String> problem) {
        return tx.update(STATE, p -> p.text(to.word()).text(problem).ids(ids).texts(ProfileState.words(from)));
    }

    private static final String WAIT =
            "update profile set state = 'waiting' where id = ? and state in ('writing', 'ready')";

    /** Says that somebody has to do something at the gateway first. */
    public static void wait(Tx tx, UUID id) {
        tx.later(WAIT, p -> p.id(id));
    }

    private static final String EXPIRES = """
            select min(k.expires_at) as expires from profile_listener pl
            left join account a on a.id = pl.account_id
            join credential k on k.id in (pl.key_id, pl.preshared_id, a.credential_id)
            where pl.profile_id = ?""";

    /** When the first of a profile's credentials expires. */
    public static Optional<Instant> expires(Tx tx, UUID id) {
        return tx.first(EXPIRES, p -> p.id(id), row -> row.optionalInstant("expires"))
                .flatMap(end -> end);
    }

    private static final String DECISION = "select decision from profile where id = ?";
    private static final String DECIDED = "update profile set decision = ? where id = ?";

    /** Why dangerous lines of its file may stay, where somebody decided that. */
    public static Optional<String> decision(Tx tx, UUID id) {
        return tx.first(DECISION, p -> p.id(id), row -> row.optionalText("decision"))
                .flatMap(d -> d);
    }

    public static void decided(Tx tx, UUID id, String decision) {
        tx.later(DECIDED, p -> p.text(decision).id(id));
    }

    private static final String NOT_HANDED_OUT = """
            select p.id from profile p
            join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            join listener l on l.id = pl.listener_id
            join gateway g on g.id = l.gateway_id
            join device d on d.id = p.device_id
            join person n on n.id = d.person_id
            left join team t on t.id = n.team_id
            where p.origin <> 'canary' and p.state in ('ready', 'waiting', 'failed', 'writing')
              and (?::text is null or g.name = ?) and (?::text is null or t.name = ?)
              and not exists (
                select 1 from handout h
                join profile_revision r on r.id = h.revision_id
                where h.profile_id = p.id and h.withdrawn_at is null
                  and r.number = (select max(number) from profile_revision m where m.profile_id = p.id))
              and not exists (
                select 1 from delivery y
                where y.profile_id = p.id
                  and y.held_revision = (select max(number) from profile_revision m where m.profile_id = p.id))
            order by p.label limit ?""";

    /** Profiles of a gateway, of a team, or of both, whose newest revision nobody was handed yet. */
    public static List<UUID> notHandedOut(Tx tx, Optional<String> gateway, Optional<String> team, int limit) {
        return tx.list(
                NOT_HANDED_OUT,
                p -> p.text(gateway).text(gateway).text(team).text(team).integer(limit),
                row -> row.id("id"));
    }

    private static final String THOSE = "select id from profile where id = any(?) and state = ?";

    /** Those of the given profiles that are in a state. */
    public static List<UUID> those(Tx tx, Collection<UUID> ids, ProfileState state) {
        return tx.list(THOSE, p -> p.ids(ids).text(state.word()), row -> row.id("id"));
    }

    private static final String READY = "update profile set state = 'ready' where id = ? and state = 'writing'";

    /** Says that nothing is left to be written for a new profile. */
    public static void ready(Tx tx, UUID id) {
        tx.later(READY, p -> p.id(id));
    }

    private static final String RENAME = """
            update profile
            set label = label || ' (withdrawn ' || left(id::text, 13) || ')'
            where id = any(?) and label not like '% (withdrawn %' and label not like '% (ended %'""";
    private static final String RELEASE = "delete from tunnel_address where profile_id = any(?)";

    /** Gives back label and tunnel addresses of profiles that are over. */
    public static void release(Tx tx, Collection<UUID> ids) {
        tx.update(RELEASE, p -> p.ids(ids));
        tx.update(RENAME, p -> p.ids(ids));
    }

    private static final String ACCOUNTS = SELECT + """
            join credential s on s.id = ac.credential_id and s.custody in ('HELD', 'ERASED')
            where g.id = ? and p.state = ?
            order by p.label""";

    /** Profiles in a state at a gateway that have an account there of Tender's own making, alone or beside a certificate. */
    public static List<Profile> accounts(Tx tx, UUID gatewayId, ProfileState state) {
        return tx.list(ACCOUNTS, p -> p.id(gatewayId).text(state.word()), Profiles::profile);
    }

    private static final String MOVE_LISTENER = "update profile_listener set listener_id = ? where profile_id = ?";
    /** Its tunnel addresses are these and no others. */
    public static void readdress(Tx tx, UUID id, UUID listenerId, List<IpAddress> addresses) {
        tx.update(RELEASE, p -> p.ids(List.of(id)));
        addresses.forEach(a -> tx.later(
                INSERT_ADDRESS, p -> p.id(listenerId).text(a.toString()).id(id)));
    }

    private static final String MOVE_ADDRESSES = "update tunnel_address set listener_id = ? where profile_id = ?";

    /** The profile belongs to another listener from now on, with its keys and addresses. */
    public static void moveListener(Tx tx, UUID profileId, UUID listenerId) {
        tx.update(MOVE_LISTENER, p -> p.id(listenerId).id(profileId));
        tx.update(MOVE_ADDRESSES, p -> p.id(listenerId).id(profileId));
    }
}
