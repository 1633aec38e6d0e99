package tender.store.profile;

import java.time.Instant;
import java.util.List;
import java.util.UUID;
import tender.store.jdbc.Tx;

/** Every tunnel key that a profile at a gateway has or had, and whether it is to be let in. */
public final class TunnelKeys {
    /**
     * A key.
     *
     * @param admitted whether the records want it let in now
     * @param ended whether it is kept out only because its time is over, so that it can be renewed
     */
    public record Known(
            UUID profileId, UUID listenerId, String listener, String publicKey, boolean admitted, boolean ended) {}

    private TunnelKeys() {}

    private static final String OF = """
            select p.id, pl.listener_id, l.name as listener, k.public_part,
                   p.state in ('writing', 'ready') as living,
                   k.state = 'EXPIRED' or k.expires_at is not null and k.expires_at <= ? as ended
            from profile p
            join profile_listener pl on pl.profile_id = p.id
            join listener l on l.id = pl.listener_id
            join credential k on k.id = pl.key_id
            where l.gateway_id = ? and k.kind = 'TUNNEL_KEY_PAIR' and k.public_part is not null
            order by p.id""";

    public static List<Known> of(Tx tx, UUID gatewayId, Instant now) {
        return tx.list(
                OF,
                p -> p.instant(now).id(gatewayId),
                row -> new Known(
                        row.id("id"),
                        row.id("listener_id"),
                        row.text("listener"),
                        row.text("public_part"),
                        row.flag("living") && !row.flag("ended"),
                        row.flag("living") && row.flag("ended")));
    }

    /** A key of a withdrawn or expired profile that a gateway's file held when it was last read. */
    public record StillThere(UUID profileId, String label, String gateway, UUID gatewayId, String listener) {}

    private static final String STILL_THERE = """
            select distinct p.id, p.label, g.name as gateway, g.id as gateway_id, l.name as listener
            from profile p
            join profile_listener pl on pl.profile_id = p.id
            join listener own on own.id = pl.listener_id
            join credential k on k.id = pl.key_id and k.kind = 'TUNNEL_KEY_PAIR'
            join listener l on l.gateway_id = own.gateway_id and k.public_part = any(l.peer_keys) and not l.gone
            join gateway g on g.id = l.gateway_id
            where p.state = 'withdrawn' and not exists (
                select 1 from profile q
                join profile_listener ql on ql.profile_id = q.id
                join credential qk on qk.id = ql.key_id
                where qk.public_part = k.public_part and q.state not in ('withdrawn', 'failed'))
            order by g.name, p.label""";

    public static List<StillThere> stillThere(Tx tx) {
        return tx.list(
                STILL_THERE,
                p -> p,
                row -> new StillThere(
                        row.id("id"),
                        row.text("label"),
                        row.text("gateway"),
                        row.id("gateway_id"),
                        row.text("listener")));
    }
}
