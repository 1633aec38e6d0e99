package tender.api;

import java.time.Instant;
import java.util.Optional;

/** When what lets people in ends. */
public final class LifeApi {
    /**
     * Something with an end.
     *
     * @param kind profile, listener, revocation-list or authority
     * @param what its label or name; {@code tell} who has to be told, where it is a person's
     * @param made when it began, where that is known
     * @param state ended, soon (within thirty days) or well
     */
    public record Life(
            String kind,
            String id,
            String what,
            Optional<String> gateway,
            Optional<String> tell,
            Optional<String> mail,
            Optional<Instant> made,
            Instant ends,
            String state) {}

    private LifeApi() {}
}
