package tender.store.jdbc;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.function.Function;
import java.util.stream.Collectors;

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

    /** Rows in the order in which their ids were given; each id has one row. */
    public static <T> List<T> inOrder(List<UUID> ids, List<T> rows, Function<T, UUID> id) {
        Map<UUID, T> byId = rows.stream().collect(Collectors.toMap(id, row -> row));
        return ids.stream().map(byId::get).toList();
    }
}
