package tender.store.jdbc;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.UUID;

/** Ids that rise with time (RFC 9562 §5.7, version 7), so that order of creation is order of id. */
public final class Ids {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static long last;

    private Ids() {}

    /** A new id. Ids rise with time on a node, so that an order by id is the order of making. */
    public static synchronized UUID next() {
        long micros = Math.max(
                last + 1, Instant.now().toEpochMilli() * 1_000 + Instant.now().getNano() / 1_000 % 1_000);
        last = micros;
        long millis = micros / 1_000;
        long high = millis << 16 | 0x7000 | (micros % 1_000 << 2 & 0xfff);
        return new UUID(high, RANDOM.nextLong() >>> 2 | 0x8000000000000000L);
    }
}
