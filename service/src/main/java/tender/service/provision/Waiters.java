package tender.service.provision;

import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import tender.core.provision.VerifyingKey;

/**
 * Calls that wait until something is different for a device. They are kept by device and by the key that signed, so that nobody who
 * only knows a device's number ends its waiting. Safe for several threads.
 */
final class Waiters {
    private final Map<UUID, Map<VerifyingKey, CompletableFuture<Boolean>>> all = new ConcurrentHashMap<>();

    /** Completes with true when something is different; of two calls of one device the older one ends with false. */
    CompletableFuture<Boolean> add(UUID enrolment, VerifyingKey key) {
        CompletableFuture<Boolean> added = new CompletableFuture<>();
        all.compute(enrolment, (id, calls) -> {
            Map<VerifyingKey, CompletableFuture<Boolean>> own = calls == null ? new ConcurrentHashMap<>(2) : calls;
            CompletableFuture<Boolean> before = own.put(key, added);
            if (before != null) {
                before.complete(false);
            }
            return own;
        });
        return added;
    }

    void remove(UUID enrolment, VerifyingKey key, CompletableFuture<Boolean> call) {
        all.computeIfPresent(enrolment, (id, calls) -> {
            calls.remove(key, call);
            return calls.isEmpty() ? null : calls;
        });
    }

    /** Something is different for a device. */
    void wake(UUID enrolment) {
        Map<VerifyingKey, CompletableFuture<Boolean>> calls = all.remove(enrolment);
        if (calls != null) {
            calls.values().forEach(c -> c.complete(true));
        }
    }

    /** What was said meanwhile was not heard. */
    void wakeAll() {
        List.copyOf(all.keySet()).forEach(this::wake);
    }

    /** Ends all calls as if their time were over. */
    void end() {
        all.values().forEach(calls -> calls.values().forEach(c -> c.complete(false)));
    }
}
