package tender.api;

import java.time.Instant;
import java.util.Optional;

/** The master key. */
public final class KeyApi {
    private KeyApi() {}

    /**
     * A rotation.
     *
     * @param keyId the id of the new key, never the key
     * @param state running or ended
     */
    public record Rotation(
            String keyId, String state, String orderedBy, Instant startedAt, Optional<Instant> endedAt) {}
}
