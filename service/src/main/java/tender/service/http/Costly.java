package tender.service.http;

import java.util.HashMap;
import java.util.Map;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import tender.api.ProblemCode;

/**
 * The one gate before every derivation that costs memory and time on purpose (Argon2id, PBKDF2): few run at once, few wait,
 * and one source never takes all places. Whoever finds no place is told to come back. Safe for several threads.
 */
public final class Costly {
    static final int AT_ONCE = 2;
    static final int WAITING = 8;
    static final int PER_SOURCE = 3;
    private static final int PATIENCE_SECONDS = 5;
    private static final int RETRY_SECONDS = 2;

    private final Semaphore running = new Semaphore(AT_ONCE, true);
    private final Map<String, Integer> bySource = new HashMap<>();
    private int inside;

    /** Runs work that derives; {@code source} is whoever asks for it. */
    public <T> T run(String source, Supplier<T> work) {
        enter(source);
        try {
            if (!running.tryAcquire(PATIENCE_SECONDS, TimeUnit.SECONDS)) {
                throw busy();
            }
            try {
                return work.get();
            } finally {
                running.release();
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw busy();
        } finally {
            leave(source);
        }
    }

    private synchronized void enter(String source) {
        if (inside >= AT_ONCE + WAITING || bySource.getOrDefault(source, 0) >= PER_SOURCE) {
            throw busy();
        }
        inside++;
        bySource.merge(source, 1, Integer::sum);
    }

    private synchronized void leave(String source) {
        inside--;
        bySource.compute(source, (k, n) -> n == 1 ? null : n - 1);
    }

    private static ApiFailure busy() {
        return ApiFailure.retry(ProblemCode.BUSY, "too many people ask for this at the same time", RETRY_SECONDS);
    }
}
