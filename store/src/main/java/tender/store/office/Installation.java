package tender.store.office;

import java.time.Instant;
import java.util.UUID;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;

/** The installation's own id, made once. */
public final class Installation {
    private Installation() {}

    private static final String MAKE = """
            insert into installation (id, created_at)
            select ?, ?
            where not exists (select 1 from installation)""";
    private static final String GET = "select id from installation order by created_at limit 1";

    public static UUID id(Tx tx, Instant now) {
        tx.update(MAKE, p -> p.id(Ids.next()).instant(now));
        return tx.first(GET, p -> p, row -> row.id("id")).orElseThrow();
    }
}
