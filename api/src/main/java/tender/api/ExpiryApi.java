package tender.api;

import java.time.Instant;
import java.util.Optional;

/** When what lets people in expires. */
public final class ExpiryApi {
    /**
     * Something with an end.
     *
     * @param kind profile, listener, revocation-list or authority
     * @param what its label or name; {@code tell} who has to be told, where it is a person's
     * @param validFrom when it began, where that is known
     * @param state expired, soon (within thirty days) or ok
     */
    public record Expiry(
            String kind,
            String id,
            String what,
            Optional<String> gateway,
            Optional<String> tell,
            Optional<String> mail,
            Optional<Instant> validFrom,
            Instant expiresAt,
            String state) {}

    private ExpiryApi() {}
}
