package tender.service.http;

import io.javalin.http.Context;
import java.time.Duration;
import java.util.function.BooleanSupplier;
import tender.store.jdbc.Db;
import tender.store.jdbc.StoreException;

/**
 * What a load balancer or a supervisor asks, without a sign-in: {@code /health/live} answers as long as the process does;
 * {@code /health/ready} says whether calls may be sent here, by asking the database at most once a second.
 */
public final class HealthChecks {
    private static final long FOR_NANOS = Duration.ofSeconds(1).toNanos();

    private final Db db;
    private final BooleanSupplier closing;
    private boolean reached;
    private long askedAt = System.nanoTime() - FOR_NANOS;

    public HealthChecks(Db db, BooleanSupplier closing) {
        this.db = db;
        this.closing = closing;
    }

    /** Answers 200 as long as requests are answered at all. */
    public void live(Context context) {
        say(context, 200, "live");
    }

    /** Answers 200 while the database answers, and 503 while not, or while the node stops. */
    public void ready(Context context) {
        if (closing.getAsBoolean()) {
            say(context, 503, "stopping");
        } else if (reachesDatabase()) {
            say(context, 200, "ready");
        } else {
            say(context, 503, "the database does not answer");
        }
    }

    private synchronized boolean reachesDatabase() {
        if (System.nanoTime() - askedAt >= FOR_NANOS) {
            try {
                db.inTransaction(tx -> tx.first("select 1 as one", p -> p, row -> row.integer("one")));
                reached = true;
            } catch (StoreException e) {
                reached = false;
            }
            askedAt = System.nanoTime();
        }
        return reached;
    }

    private static void say(Context context, int status, String text) {
        context.status(status)
                .contentType("text/plain")
                .header("Cache-Control", "no-store")
                .result(text + "\n");
    }
}
