package tender.store.profile;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.network.IpAddress;
import tender.store.jdbc.Tx;

/** Who has something at a listener or a gateway: addresses, keys, accounts, devices, labels. */
public final class ListenerProfiles {
    private ListenerProfiles() {}

    private static final String USES_ACCOUNT = """
            select 1 as one from profile p
            join profile_listener pl on pl.profile_id = p.id
            join listener l on l.id = pl.listener_id
            join account a on a.id = pl.account_id
            where l.gateway_id = ? and a.name = ? and p.state in ('writing', 'waiting', 'ready')
            limit 1""";

    /** Whether a living profile at a gateway rests on an account. */
    public static boolean usesAccount(Tx tx, UUID gatewayId, String account) {
        return tx.first(USES_ACCOUNT, p -> p.id(gatewayId).text(account), row -> true)
                .isPresent();
    }

    private static final String ACCOUNTS_STILL_THERE = """
            select p.id, p.label, g.id as gateway_id, g.name as gateway, a.name as account
            from profile p
            join profile_listener pl on pl.profile_id = p.id
            join listener l on l.id = pl.listener_id
            join gateway g on g.id = l.gateway_id
            join account a on a.id = pl.account_id
            where p.state = 'withdrawn'
              and exists (
                select 1 from jsonb_array_elements(document_value(g.device) -> 'accounts') d
                where d ->> 'name' = a.name and (d ->> 'vpn')::boolean)
              and not exists (
                select 1 from profile q
                join profile_listener ql on ql.profile_id = q.id
                join listener qlis on qlis.id = ql.listener_id and qlis.gateway_id = g.id
                join account qa on qa.id = ql.account_id
                where qa.name = a.name and q.state not in ('withdrawn', 'failed'))
            order by g.name, p.label""";

    /** An account of a withdrawn profile that its gateway still had when it was last read. */
    public record AccountStillThere(UUID profileId, String label, UUID gatewayId, String gateway, String account) {}

    public static List<AccountStillThere> accountsStillThere(Tx tx) {
        return tx.list(
                ACCOUNTS_STILL_THERE,
                p -> p,
                row -> new AccountStillThere(
                        row.id("id"),
                        row.text("label"),
                        row.id("gateway_id"),
                        row.text("gateway"),
                        row.text("account")));
    }

    private static final String TRIABLE = """
            select p.id from profile p
            join profile_listener l on l.profile_id = p.id and l.position = 0
            join credential c on c.id = l.key_id and c.custody in ('HELD', 'IN_FILE')
            where p.state = 'ready' and l.listener_id = ?
            order by exists (select 1 from trial t where t.profile_id = p.id and t.proven) desc, p.created_at desc
            limit ?""";

    /** Ready profiles of a listener that a trial from here can use; first those that a trial has proven. */
    public static List<UUID> triable(Tx tx, UUID listenerId, int limit) {
        return tx.list(TRIABLE, p -> p.id(listenerId).integer(limit), row -> row.id("id"));
    }

    private static final String WITHDRAWING = """
            select p.id from profile p join profile_listener pl on pl.profile_id = p.id
            where pl.listener_id = ? and p.state = 'withdrawing'""";

    public static List<UUID> withdrawingOf(Tx tx, UUID listenerId) {
        return tx.list(WITHDRAWING, p -> p.id(listenerId), row -> row.id("id"));
    }

    private static final String TAKEN = "select host(address) as address from tunnel_address where listener_id = ?";

    /** Tunnel addresses of a listener that profiles hold, withdrawn ones until they are released. */
    public static Set<IpAddress> taken(Tx tx, UUID listenerId) {
        return tx.list(TAKEN, p -> p.id(listenerId), row -> IpAddress.parse(row.text("address"))).stream()
                .collect(Collectors.toSet());
    }

    private static final String OTHER = """
            select p.label
            from profile p
            join profile_listener pl on pl.profile_id = p.id
            where p.device_id = ? and pl.listener_id = ? and p.state in ('writing', 'waiting', 'ready', 'withdrawing')
            limit 1""";

    /** The label of the profile that a device already has for a listener. */
    public static Optional<String> present(Tx tx, UUID deviceId, UUID listenerId) {
        return tx.first(OTHER, p -> p.id(deviceId).id(listenerId), row -> row.text("label"));
    }

    private static final String DEVICES = """
            select p.device_id from profile p join profile_listener pl on pl.profile_id = p.id
            where pl.listener_id = ? and p.device_id is not null and p.state in ('writing', 'waiting', 'ready', 'withdrawing')""";

    /** Devices that have a profile for a listener. */
    public static Set<UUID> devicesAt(Tx tx, UUID listenerId) {
        return Set.copyOf(tx.list(DEVICES, p -> p.id(listenerId), row -> row.id("device_id")));
    }

    /** A key or name at a listener that profiles use, for telling whose session it is. */
    public record KeyUser(String identity, UUID profileId, ProfileOrigin origin) {}

    private static final String HOLDERS = """
            select k.public_part, p.id, p.origin
            from profile_listener pl
            join profile p on p.id = pl.profile_id
            join credential k on k.id = pl.key_id
            where pl.listener_id = ? and k.public_part = any(?)
            order by p.created_at""";

    /** Whose the keys or names at a listener are, the oldest profile first; keys of nobody are left out. */
    public static List<KeyUser> users(Tx tx, UUID listenerId, Collection<String> keys) {
        return tx.list(
                HOLDERS,
                p -> p.id(listenerId).texts(keys),
                row -> new KeyUser(row.text("public_part"), row.id("id"), ProfileOrigin.of(row.text("origin"))));
    }

    private static final String PARTS = """
            select k.public_part from profile_listener pl join credential k on k.id = pl.key_id
            where pl.listener_id = ? and k.public_part is not null""";

    /** Keys and names that any profile of a listener has or had. */
    public static Set<String> publicPartsAt(Tx tx, UUID listenerId) {
        return Set.copyOf(tx.list(PARTS, p -> p.id(listenerId), row -> row.text("public_part")));
    }

    /**
     * A profile that was imported for a device.
     *
     * @param ends when its credential ends
     * @param digests SHA-256 of all its revisions, in hexadecimal
     */
    public record FromFile(
            UUID profileId,
            UUID deviceId,
            String label,
            String publicPart,
            Optional<Instant> ends,
            Set<String> digests) {}

    private static final String FROM_FILES = """
            select p.id, p.device_id, p.label, k.public_part, k.expires_at, array_agg(r.digest) as digests
            from profile_listener pl
            join profile p on p.id = pl.profile_id
            join credential k on k.id = pl.key_id
            join profile_revision r on r.profile_id = p.id
            where pl.listener_id = ? and p.state = 'ready' and p.origin = 'exported' and p.device_id is not null
            group by p.id, p.device_id, p.label, k.public_part, k.expires_at""";

    /** Profiles of a listener that were made of imported files and work. */
    public static List<FromFile> fromFiles(Tx tx, UUID listenerId) {
        return tx.list(
                FROM_FILES,
                p -> p.id(listenerId),
                row -> new FromFile(
                        row.id("id"),
                        row.id("device_id"),
                        row.text("label"),
                        row.text("public_part"),
                        row.optionalInstant("expires_at"),
                        Set.copyOf(row.texts("digests"))));
    }

    private static final String LABELS = "select label from profile where right(label, length(?)) = ?";

    /** Labels that end so. */
    public static Set<String> labelsEnding(Tx tx, String end) {
        return Set.copyOf(tx.list(LABELS, p -> p.text(end).text(end), row -> row.text("label")));
    }

    private static final String USERS_LEFT = """
            select coalesce(n.name, p.label) as used_by
            from profile p
            join profile_listener pl on pl.profile_id = p.id
            left join device d on d.id = p.device_id
            left join person n on n.id = d.person_id
            where pl.listener_id = ? and p.origin <> 'canary' and p.state in ('ready', 'writing')
            order by used_by""";

    /** Who holds a profile of a listener still. */
    public static List<String> usersLeft(Tx tx, UUID listenerId) {
        return tx.list(USERS_LEFT, p -> p.id(listenerId), row -> row.text("used_by"));
    }
}
