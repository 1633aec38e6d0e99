package tender.store.journal;

import java.time.Instant;

/**
 * Who does something, and when.
 *
 * @param actor as the journal names them: {@code operator:ID}, {@code staff}, {@code tender}
 */
public record By(String actor, Instant at) {
    /** Tender itself, by a job. */
    public static By tender(Instant at) {
        return new By("tender", at);
    }
}
