package tender.service.http;

import java.util.HashSet;
import java.util.Set;
import java.util.UUID;
import java.util.function.Supplier;
import tender.api.ProblemCode;

/** Looking into files that are sent: one at a time for each caller, few at once in all. Safe for several threads. */
public final class OneByOne {
    private static final int AT_ONCE = 3;
    private static final int RETRY_SECONDS = 2;

    private final Set<UUID> inside = new HashSet<>();

    /** @throws ApiFailure where the caller has one running already, or three others have */
    public <T> T run(Caller caller, Supplier<T> work) {
        synchronized (inside) {
            if (inside.size() >= AT_ONCE || !inside.add(caller.operatorId())) {
                throw ApiFailure.retry(ProblemCode.BUSY, "files are being looked into; one at a time", RETRY_SECONDS);
            }
        }
        try {
            return work.get();
        } finally {
            synchronized (inside) {
                inside.remove(caller.operatorId());
            }
        }
    }
}
