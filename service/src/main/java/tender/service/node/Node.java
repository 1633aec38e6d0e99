package tender.service.node;

import java.time.Clock;
import tender.service.metrics.Metrics;
import tender.service.settings.Settings;
import tender.store.jdbc.Db;
import tender.store.secret.ColumnCipher;

/**
 * What every module of a node shares.
 *
 * @param name of the node, unlike any other's on the same database
 * @param installation the same for all nodes of one database
 */
public record Node(
        Db db,
        Clock clock,
        String name,
        String installation,
        Settings settings,
        ColumnCipher cipher,
        Metrics metrics) {}
