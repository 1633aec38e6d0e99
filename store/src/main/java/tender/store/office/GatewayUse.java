package tender.store.office;

import java.util.Collection;
import java.util.List;
import java.util.UUID;
import tender.store.jdbc.Tx;

/**
 * How much a gateway is used.
 *
 * @param profiles that are not withdrawn
 * @param people who have one of them
 * @param connected sessions that have not ended
 * @param toDo what somebody has to do there by hand
 */
public record GatewayUse(UUID gatewayId, int profiles, int people, int connected, int toDo) {
    private static final String OF = """
            select g.id, coalesce(p.profiles, 0) as profiles, coalesce(p.people, 0) as people,
                   (select count(*) from session s join listener l on l.id = s.listener_id
                    where l.gateway_id = g.id and s.ended_at is null)::int as connected,
                   (select count(*) from device_change c where c.gateway_id = g.id and c.state = 'by-hand')::int
                   + coalesce(i.instructions, 0) as to_do
            from unnest(?::uuid[]) as g(id)
            left join (
                select gateway_id, count(*)::int as profiles, count(distinct person_id)::int as people
                from profile_standing
                where gateway_id = any(?) and state in ('writing', 'waiting', 'ready', 'withdrawing', 'closing')
                group by gateway_id) p on p.gateway_id = g.id
            left join (
                select l.gateway_id, count(*)::int as instructions
                from instruction h
                join profile_listener pl on pl.profile_id = h.profile_id and pl.position = 0
                join listener l on l.id = pl.listener_id
                group by l.gateway_id) i on i.gateway_id = g.id""";

    /** One row for each of the gateways. Callers have {@link tender.store.profile.Standings#refresh} work out what is due first. */
    public static List<GatewayUse> of(Tx tx, Collection<UUID> gatewayIds) {
        return tx.list(
                OF,
                p -> p.ids(gatewayIds).ids(gatewayIds),
                row -> new GatewayUse(
                        row.id("id"),
                        row.integer("profiles"),
                        row.integer("people"),
                        row.integer("connected"),
                        row.integer("to_do")));
    }
}
