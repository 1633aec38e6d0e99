package tender.store.reconcile;

import java.util.Arrays;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.network.IpAddress;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/**
 * What should be active at a gateway, one row for each thing, written in the transaction that is its reason. A row is due
 * while its observed generation is behind its generation; that is how nothing is lost whoever dies when.
 */
public final class DesiredResources {
    /** What a row is about. */
    public enum Kind {
        /** A peer of a WireGuard listener, for one profile. */
        PEER,
        /** An account of a caller, for one profile. */
        ACCOUNT,
        /** The revocation lists of all of a gateway's listeners. */
        REVOCATION_LISTS;

        String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }

        static Kind of(String word) {
            return Arrays.stream(values())
                    .filter(k -> k.word().equals(word))
                    .findFirst()
                    .orElseThrow();
        }
    }

    /** Whether it is to be there. */
    public enum Presence {
        PRESENT,
        /** Gone, while its profile stays and can be renewed. */
        SUSPENDED,
        /** Gone for good. */
        ABSENT;

        String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** How far a row is. */
    public enum State {
        /** Not yet active. */
        PENDING,
        /** As it should be. */
        ACTIVE,
        /** Not to be had at this gateway as it is; no reason to try again by itself. */
        FAILED;

        String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    /**
     * A row that is due, with what is needed to write it. The listener is the one that it is wanted at.
     *
     * @param publicPart a peer's public key, an account's name
     * @param secretId the peer's preshared key, the account's password
     * @param besideCertificate whether an account is one beside a certificate
     */
    public record Due(
            Kind kind,
            String key,
            long generation,
            Presence presence,
            Optional<UUID> listenerId,
            Optional<String> listener,
            Optional<UUID> profileId,
            String label,
            String publicPart,
            Optional<UUID> secretId,
            boolean besideCertificate,
            List<IpAddress> addresses) {}

    private DesiredResources() {}

    private static final String WANT = """
            insert into desired_resource as d
                (gateway_id, kind, key, listener_id, profile_id, presence, state, changed_at)
            values (?, ?, ?, ?, ?, ?, 'pending', now())
            on conflict (gateway_id, kind, key) do update
            set presence = excluded.presence, listener_id = excluded.listener_id, profile_id = excluded.profile_id,
                generation = d.generation + 1, state = 'pending', problem = null, changed_at = now()""";

    private static void want(
            Tx tx,
            UUID gatewayId,
            Kind kind,
            String key,
            Optional<UUID> listenerId,
            Optional<UUID> profileId,
            Presence presence) {
        tx.later(
                WANT,
                p -> p.id(gatewayId)
                        .text(kind.word())
                        .text(key)
                        .id(listenerId)
                        .id(profileId)
                        .text(presence.word()));
    }

    /** Wants a profile's peer at a listener to be there or to be gone. */
    public static void peer(Tx tx, UUID gatewayId, UUID listenerId, UUID profileId, Presence presence) {
        want(
                tx,
                gatewayId,
                Kind.PEER,
                listenerId + "/" + profileId,
                Optional.of(listenerId),
                Optional.of(profileId),
                presence);
    }

    /** Wants a profile's account at a gateway to be there or to be gone. */
    public static void account(Tx tx, UUID gatewayId, UUID profileId, Presence presence) {
        want(tx, gatewayId, Kind.ACCOUNT, profileId.toString(), Optional.empty(), Optional.of(profileId), presence);
    }

    /** Wants the newest revocation lists at a gateway's listeners. */
    public static void revocationLists(Tx tx, UUID gatewayId) {
        want(tx, gatewayId, Kind.REVOCATION_LISTS, "", Optional.empty(), Optional.empty(), Presence.PRESENT);
    }

    private static final String DUE = """
            select r.kind, r.key, r.generation, r.presence, r.listener_id, l.name as listener, r.profile_id,
                   coalesce(p.label, '') as label, coalesce(case when r.kind = 'account' then ac.name else k.public_part end, '') as public_part,
                   case when r.kind = 'account' then ac.credential_id else pl.preshared_id end as secret_id,
                   coalesce(r.kind = 'account' and ac.credential_id <> pl.key_id, false) as beside,
                   array(select host(address) from tunnel_address a where a.profile_id = p.id order by address) as addresses
            from desired_resource r
            left join listener l on l.id = r.listener_id
            left join profile p on p.id = r.profile_id
            left join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            left join credential k on k.id = pl.key_id
            left join account ac on ac.id = pl.account_id
            where r.gateway_id = ? and r.observed_generation < r.generation
            order by r.changed_at, r.key""";

    /** All that is due at a gateway, what was wanted first at the front. */
    public static List<Due> due(Tx tx, UUID gatewayId) {
        return tx.list(DUE, p -> p.id(gatewayId), DesiredResources::due);
    }

    private static Due due(Row row) {
        return new Due(
                Kind.of(row.text("kind")),
                row.text("key"),
                row.number("generation"),
                Presence.valueOf(row.text("presence").toUpperCase(Locale.ROOT)),
                row.optionalId("listener_id"),
                row.optionalText("listener"),
                row.optionalId("profile_id"),
                row.text("label"),
                row.text("public_part"),
                row.optionalId("secret_id"),
                row.flag("beside"),
                row.texts("addresses").stream().map(IpAddress::parse).toList());
    }

    private static final String OBSERVED = """
            update desired_resource
            set observed_generation = ?, state = case when generation = ? then ? else state end, problem = ?
            where gateway_id = ? and kind = ? and key = ? and observed_generation < ?""";

    private static void observed(Tx tx, UUID gatewayId, Collection<Due> rows, State state, Optional<String> problem) {
        rows.forEach(r -> tx.later(
                OBSERVED,
                p -> p.number(r.generation())
                        .number(r.generation())
                        .text(state.word())
                        .text(problem)
                        .id(gatewayId)
                        .text(r.kind().word())
                        .text(r.key())
                        .number(r.generation())));
    }

    /** These rows are active, as of the generation that was written; what was wanted since is due still. */
    public static void active(Tx tx, UUID gatewayId, Collection<Due> rows) {
        observed(tx, gatewayId, rows, State.ACTIVE, Optional.empty());
    }

    /** The gateway refused these rows. */
    public static void failed(Tx tx, UUID gatewayId, Collection<Due> rows, String problem) {
        observed(tx, gatewayId, rows, State.FAILED, Optional.of(problem));
    }

    private static final String PROBLEM = """
            update desired_resource set problem = ?, state = ?
            where gateway_id = ? and observed_generation < generation and kind = any(?::text[])""";

    /**
     * Says why what is due of some kinds is not yet active. It stays due, and is tried again with whatever is written next.
     *
     * @param lasting whether nothing but a new wish is a reason to try again
     */
    public static void problem(Tx tx, UUID gatewayId, Collection<Kind> kinds, String problem, boolean lasting) {
        tx.update(
                PROBLEM,
                p -> p.text(problem)
                        .text((lasting ? State.FAILED : State.PENDING).word())
                        .id(gatewayId)
                        .texts(kinds.stream().map(Kind::word).toList()));
    }

    /** A peer row that is due. */
    public record DuePeer(UUID listenerId, UUID profileId, Presence presence) {}

    private static final String DUE_PEERS = """
            select listener_id, profile_id, presence from desired_resource
            where gateway_id = ? and kind = 'peer' and observed_generation < generation""";

    public static Set<DuePeer> duePeers(Tx tx, UUID gatewayId) {
        return new HashSet<>(tx.list(
                DUE_PEERS,
                p -> p.id(gatewayId),
                row -> new DuePeer(
                        row.id("listener_id"),
                        row.id("profile_id"),
                        Presence.valueOf(row.text("presence").toUpperCase(Locale.ROOT)))));
    }

    private static final String FORGET =
            "delete from desired_resource where profile_id = ? and observed_generation < generation";

    /** Tender carries nothing out that is due for a profile: somebody does it by hand. */
    public static void forget(Tx tx, UUID profileId) {
        tx.update(FORGET, p -> p.id(profileId));
    }

    private static final String IS_DUE = """
            select exists (select 1 from desired_resource
                where gateway_id = ? and observed_generation < generation and state <> 'failed') as due""";

    /** Whether anything is due that waits for nothing but the gateway. */
    public static boolean isDue(Tx tx, UUID gatewayId) {
        return tx.first(IS_DUE, p -> p.id(gatewayId), row -> row.flag("due")).orElse(false);
    }

    private static final String GATEWAYS =
            "select distinct gateway_id from desired_resource where observed_generation < generation and state <> 'failed'";

    /** Gateways where anything is due that waits for nothing but the gateway. */
    public static List<UUID> gatewaysDue(Tx tx) {
        return tx.list(GATEWAYS, p -> p, row -> row.id("gateway_id"));
    }
}
