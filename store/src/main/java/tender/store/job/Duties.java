package tender.store.job;

import java.time.Duration;
import tender.store.jdbc.Tx;

/** Work that goes on without end on one node alone, whichever holds the duty. */
public final class Duties {
    private Duties() {}

    private static final String HOLD = """
            insert into duty as d (name, node, lease_until) values (?, ?, now() + ? * interval '1 millisecond')
            on conflict (name) do update
            set node = excluded.node, lease_until = excluded.lease_until
            where d.node = excluded.node or d.lease_until < now()""";

    /** Takes or keeps a duty; false while another node has it. */
    public static boolean hold(Tx tx, String duty, String node, Duration lease) {
        return tx.update(HOLD, p -> p.text(duty).text(node).number(lease.toMillis())) == 1;
    }

    private static final String RELEASE = "delete from duty where name = ? and node = ?";

    public static void release(Tx tx, String duty, String node) {
        tx.update(RELEASE, p -> p.text(duty).text(node));
    }
}
