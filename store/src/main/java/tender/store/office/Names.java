package tender.store.office;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.store.jdbc.Tx;

/** Where names led when last asked. */
public final class Names {
    private Names() {}

    private static final String PUT = """
            insert into name_lookup (name, addresses, at)
            values (?, ?::text[]::inet[], ?)
            on conflict (name) do update set addresses = excluded.addresses, at = excluded.at""";
    private static final String ALL =
            "select name, array(select host(a) from unnest(addresses) as a) as addresses from name_lookup";

    public static void put(Tx tx, HostName name, List<IpAddress> addresses, Instant now) {
        tx.update(PUT, p -> p.text(name.text()).texts(addresses).instant(now));
    }

    public static Map<HostName, List<IpAddress>> all(Tx tx) {
        Map<HostName, List<IpAddress>> out = new HashMap<>();
        tx.list(
                ALL,
                p -> p,
                row -> out.put(
                        HostName.parse(row.text("name")),
                        row.texts("addresses").stream().map(IpAddress::parse).toList()));
        return out;
    }
}
