package tender.store.session;

import java.time.Duration;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;

/**
 * Which gateways a node asks who is connected. All gateways are spread over a fixed number of shares, and each node that is
 * alive leases about as many of these as every other; the shares of a node that died are free once its lease ran out.
 */
public final class PollShares {
    /** As many as the table has rows. */
    static final int SHARES = 64;

    private PollShares() {}

    /** The share that a gateway belongs to; the same on every node, for as long as the gateway exists. */
    public static int of(UUID gatewayId) {
        return Math.floorMod(gatewayId.hashCode(), SHARES);
    }

    private static final String HEARD =
            "insert into node (name, heard_at) values (?, now()) on conflict (name) do update set heard_at = now()";
    private static final String ALIVE =
            "select count(*) as n from node where heard_at > now() - ? * interval '1 millisecond'";
    private static final String OWN = "select share from poll_share where node = ? order by share for update";
    private static final String GIVE = "update poll_share set node = null, lease_until = null where share = any(?)";
    private static final String EXTEND =
            "update poll_share set lease_until = now() + ? * interval '1 millisecond' where node = ?";
    private static final String TAKE = """
            update poll_share
            set node = ?, lease_until = now() + ? * interval '1 millisecond'
            where share in (
                select share
                from poll_share
                where node is null or lease_until < now()
                order by share
                limit ?
                for update skip locked)
            returning share""";

    /**
     * Says that the node is alive, keeps its shares for another lease, gives up what is more than its part and takes what is
     * less. Gives the shares that it holds now.
     */
    public static Set<Integer> hold(Db db, String node, Duration lease) {
        return db.inTransaction(tx -> {
            tx.update(HEARD, p -> p.text(node));
            long alive = tx.first(ALIVE, p -> p.number(lease.toMillis()), row -> row.number("n"))
                    .orElse(1L);
            int part = (int) ((SHARES + alive - 1) / alive);
            List<Integer> own = tx.list(OWN, p -> p.text(node), row -> row.integer("share"));
            List<Integer> kept = own.subList(0, Math.min(part, own.size()));
            if (kept.size() < own.size()) {
                List<Long> given = own.subList(part, own.size()).stream()
                        .map(Integer::longValue)
                        .toList();
                tx.update(GIVE, p -> p.numbers(given));
            }
            tx.update(EXTEND, p -> p.number(lease.toMillis()).text(node));
            Set<Integer> held = new TreeSet<>(kept);
            if (kept.size() < part) {
                held.addAll(tx.list(
                        TAKE,
                        p -> p.text(node).number(lease.toMillis()).integer(part - kept.size()),
                        row -> row.integer("share")));
            }
            return held;
        });
    }

    private static final String GIVE_ALL = "update poll_share set node = null, lease_until = null where node = ?";
    private static final String GONE = "delete from node where name = ?";

    /** Gives all of a node's shares back when it stops in order. */
    public static void release(Tx tx, String node) {
        tx.update(GIVE_ALL, p -> p.text(node));
        tx.update(GONE, p -> p.text(node));
    }

    private static final String TO_POLL =
            "select id from gateway where identity_accepted and connector <> 'file' order by id";

    /** Gateways in these shares that can be asked over a connection. */
    public static List<UUID> gateways(Tx tx, Set<Integer> shares) {
        return tx.list(TO_POLL, p -> p, row -> row.id("id")).stream()
                .filter(id -> shares.contains(of(id)))
                .toList();
    }
}
