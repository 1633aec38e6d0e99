package tender.store.profile;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** Grants: what a team gets at a listener where it differs from everyone else. */
public final class Grants {
    /**
     * A rule.
     *
     * @param reach empty where the team reaches what everyone does
     * @param dns empty where the team gets no other name servers than everyone
     * @param validDays how long its profiles live; empty as everyone's
     */
    public record Grant(
            UUID id,
            UUID listenerId,
            String gateway,
            String listener,
            String team,
            boolean fullTunnel,
            List<Cidr> reach,
            List<IpAddress> dns,
            Optional<Integer> validDays,
            Instant setAt) {
        public Grant {
            reach = List.copyOf(reach);
            dns = List.copyOf(dns);
        }
    }

    private Grants() {}

    private static final String PUT = """
            insert into listener_grant (id, listener_id, team_id, full_tunnel, reach, dns, valid_days, set_at)
            values (?, ?, (select id from team where name = ?), ?, ?::text[]::cidr[], ?::text[]::inet[], ?, ?)
            on conflict (listener_id, team_id) do update
            set full_tunnel = excluded.full_tunnel, reach = excluded.reach, dns = excluded.dns,
                valid_days = excluded.valid_days, set_at = excluded.set_at""";

    /** Sets the rule of a listener and a team that there is, in place of the one there was. */
    public static void put(Tx tx, Grant v) {
        tx.update(
                PUT,
                p -> p.id(v.id())
                        .id(v.listenerId())
                        .text(v.team())
                        .flag(v.fullTunnel())
                        .texts(v.reach())
                        .texts(v.dns())
                        .number(v.validDays().map(Integer::longValue))
                        .instant(v.setAt()));
    }

    private static final String DROP = "delete from listener_grant where id = ?";

    public static boolean drop(Tx tx, UUID id) {
        return tx.update(DROP, p -> p.id(id)) == 1;
    }

    private static final String SELECT = """
            select v.id, v.listener_id, g.name as gateway, l.name as listener, t.name as team, v.full_tunnel,
                   v.reach::text[] as reach, array(select host(a) from unnest(v.dns) as a) as dns, v.valid_days, v.set_at
            from listener_grant v
            join listener l on l.id = v.listener_id
            join gateway g on g.id = l.gateway_id
            join team t on t.id = v.team_id
            """;
    private static final String ALL = SELECT + "order by g.name, l.name, t.name";
    private static final String BY_ID = SELECT + "where v.id = ?";
    private static final String OF_LISTENER = SELECT + "where v.listener_id = ?";

    public static List<Grant> all(Tx tx) {
        return tx.list(ALL, p -> p, Grants::grant);
    }

    public static Optional<Grant> byId(Tx tx, UUID id) {
        return tx.first(BY_ID, p -> p.id(id), Grants::grant);
    }

    public static List<Grant> of(Tx tx, UUID listenerId) {
        return tx.list(OF_LISTENER, p -> p.id(listenerId), Grants::grant);
    }

    private static Grant grant(Row row) {
        return new Grant(
                row.id("id"),
                row.id("listener_id"),
                row.text("gateway"),
                row.text("listener"),
                row.text("team"),
                row.flag("full_tunnel"),
                row.texts("reach").stream().map(Cidr::parse).toList(),
                row.texts("dns").stream().map(IpAddress::parse).toList(),
                row.optionalNumber("valid_days").map(Long::intValue),
                row.instant("set_at"));
    }
}
