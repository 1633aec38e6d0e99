package tender.service.http;

import java.time.Instant;
import java.util.Optional;
import java.util.UUID;

/** Who is calling, by a valid sign-in. */
public record Caller(
        UUID operatorId,
        String name,
        Role role,
        boolean mustChangePassword,
        UUID signInId,
        boolean browser,
        Instant freshUntil,
        Optional<UUID> personId) {
    /** As the journal names an operator: by id, so that names can change. */
    public String reference() {
        return "operator:" + operatorId;
    }
}
