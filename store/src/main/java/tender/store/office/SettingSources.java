package tender.store.office;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import tender.core.office.Attribute;
import tender.core.office.SettingSource;
import tender.store.jdbc.Tx;

/** Where it is known from how listeners of gateways managed by hand are set, and since when. */
public final class SettingSources {
    /** What one source says of a setting. */
    public record Said(
            UUID gatewayId, String listener, Attribute setting, SettingSource source, String value, Instant at) {}

    private SettingSources() {}

    private static final String PUT = """
            insert into setting_source (listener_id, setting, source, value, said_at)
            select l.id, ?, ?, ?, ? from listener l where l.gateway_id = ? and l.name = ?
            on conflict (listener_id, setting, source) do update set value = excluded.value, said_at = excluded.said_at""";

    public static void put(
            Tx tx, UUID gatewayId, String listener, Map<Attribute, String> values, SettingSource source, Instant at) {
        values.forEach((setting, value) -> tx.later(
                PUT,
                p -> p.text(setting.word())
                        .text(source.word())
                        .text(value)
                        .instant(at)
                        .id(gatewayId)
                        .text(listener)));
    }

    private static final String FORGET = """
            delete from setting_source where setting = any(?)
              and listener_id = (select id from listener where gateway_id = ? and name = ?)""";

    /** Nothing is known of these settings any more. */
    public static void forget(Tx tx, UUID gatewayId, String listener, Collection<Attribute> settings) {
        tx.update(
                FORGET,
                p -> p.texts(settings.stream().map(Attribute::word).toList())
                        .id(gatewayId)
                        .text(listener));
    }

    private static final String SELECT = """
            select l.gateway_id, l.name, s.setting, s.source, s.value, s.said_at
            from setting_source s join listener l on l.id = s.listener_id and not l.gone
            """;

    /** All that is said of a gateway's listeners, the newest first. */
    public static List<Said> of(Tx tx, UUID gatewayId) {
        return list(tx, "where l.gateway_id = any(?) order by s.said_at desc, s.source", List.of(gatewayId));
    }

    /** What trials and others say otherwise of the same settings, the newest first. */
    public static List<Said> differing(Tx tx, Collection<UUID> gatewayIds) {
        return list(tx, """
                where l.gateway_id = any(?) and exists (
                    select 1 from setting_source o
                    where o.listener_id = s.listener_id and o.setting = s.setting and o.value <> s.value
                      and (o.source = 'trial') <> (s.source = 'trial'))
                order by s.said_at desc, s.source""", gatewayIds);
    }

    private static List<Said> list(Tx tx, String where, Collection<UUID> gatewayIds) {
        return tx.list(
                SELECT + where,
                p -> p.ids(gatewayIds),
                row -> new Said(
                        row.id("gateway_id"),
                        row.text("name"),
                        Attribute.parse(row.text("setting")),
                        SettingSource.of(row.text("source")),
                        row.text("value"),
                        row.instant("said_at")));
    }
}
