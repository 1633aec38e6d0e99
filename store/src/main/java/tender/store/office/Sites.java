package tender.store.office;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.network.Cidr;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** Places of the company and their networks. */
public final class Sites {
    /** A site; its networks by name. */
    public record Site(
            UUID id,
            String name,
            String title,
            String domain,
            String timeZone,
            Map<String, Cidr> networks,
            int version) {
        public Site {
            networks = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(networks));
        }
    }

    private Sites() {}

    private static final String ENSURE_DOMAIN =
            "insert into routing_domain (id, name) values (?, ?) on conflict (name) do nothing";
    private static final String INSERT = """
            insert into site (id, name, title, routing_domain_id, time_zone)
            select ?, ?, ?, id, ?
            from routing_domain
            where name = ?""";

    public static void insert(Tx tx, Site site) {
        tx.update(ENSURE_DOMAIN, p -> p.id(Ids.next()).text(site.domain()));
        tx.updateOne(
                INSERT,
                p -> p.id(site.id())
                        .text(site.name())
                        .text(site.title())
                        .text(site.timeZone())
                        .text(site.domain()));
        putNetworks(tx, site.id(), site.networks());
    }

    private static final String PUT_NETWORKS = """
            insert into site_network (site_id, name, network)
            select ?, n.name, n.network::cidr
            from unnest(?::text[], ?::text[]) as n(name, network)
            on conflict (site_id, name) do update set network = excluded.network""";

    /** Adds networks, or changes those of the same name. */
    public static void putNetworks(Tx tx, UUID siteId, Map<String, Cidr> networks) {
        tx.update(PUT_NETWORKS, p -> p.id(siteId).texts(networks.keySet()).texts(networks.values()));
    }

    private static final String DROP_NETWORKS = "delete from site_network where site_id = ? and name = any(?::text[])";
    private static final String SET =
            "update site set name = ?, title = ?, time_zone = ?, version = version + 1 where id = ? and version = ?";

    /**
     * Writes name, title and time zone of a site as changed.
     *
     * @param put networks to put, by name
     * @param drop names of networks to drop
     * @param version as it was read; the call fails where somebody was faster
     */
    public static void set(Tx tx, Site site, Map<String, Cidr> put, List<String> drop, int version) {
        tx.updateOne(
                SET,
                p -> p.text(site.name())
                        .text(site.title())
                        .text(site.timeZone())
                        .id(site.id())
                        .integer(version));
        tx.update(DROP_NETWORKS, p -> p.id(site.id()).texts(drop));
        putNetworks(tx, site.id(), put);
    }

    private static final String SELECT = """
            select s.id, s.name, s.title, d.name as domain, s.time_zone, s.version,
                   coalesce(array_agg(n.name order by n.name) filter (where n.name is not null), '{}') as network_names,
                   coalesce(array_agg(n.network::text order by n.name) filter (where n.name is not null), '{}') as networks
            from site s
            join routing_domain d on d.id = s.routing_domain_id
            left join site_network n on n.site_id = s.id
            """;
    private static final String GROUP = "group by s.id, d.name order by s.name limit ?";
    private static final String PAGE = SELECT + "where s.archived_at is null and s.name > ? " + GROUP;
    private static final String BY_NAME = SELECT + "where s.archived_at is null and s.name = ? " + GROUP;
    private static final String BY_ID = SELECT + "where s.archived_at is null and s.id = ? " + GROUP;

    public static List<Site> page(Tx tx, String after, int limit) {
        return tx.list(PAGE, p -> p.text(after).integer(limit), Sites::site);
    }

    public static Optional<Site> byName(Tx tx, String name) {
        return tx.first(BY_NAME, p -> p.text(name).integer(1), Sites::site);
    }

    public static Optional<Site> byId(Tx tx, UUID id) {
        return tx.first(BY_ID, p -> p.id(id).integer(1), Sites::site);
    }

    private static Site site(Row row) {
        List<String> names = row.texts("network_names");
        List<String> networks = row.texts("networks");
        Map<String, Cidr> byName = new LinkedHashMap<>();
        for (int i = 0; i < names.size(); i++) {
            byName.put(names.get(i), Cidr.parse(networks.get(i)));
        }
        return new Site(
                row.id("id"),
                row.text("name"),
                row.text("title"),
                row.text("domain"),
                row.text("time_zone"),
                byName,
                row.integer("version"));
    }
}
