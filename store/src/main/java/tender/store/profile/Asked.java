package tender.store.profile;

import java.time.Instant;
import java.util.Optional;
import tender.store.jdbc.Row;

/**
 * Who was asked to do something by hand at a gateway.
 *
 * @param of a mail address
 */
public record Asked(String of, Instant at) {
    /** From the columns {@code asked_of} and {@code sent_at}; empty where nobody was asked. */
    public static Optional<Asked> of(Row row) {
        return row.optionalText("asked_of")
                .flatMap(who -> row.optionalInstant("sent_at").map(at -> new Asked(who, at)));
    }
}
