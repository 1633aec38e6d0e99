package tender.service.http;

import java.time.Instant;
import java.util.Optional;
import java.util.UUID;

/**
 * Who is calling, by a valid sign-in.
 *
 * @param role of the account; that of an auditor where the sign-in is for reading only
 * @param enrolOnly whether a second factor has to be set up before anything else
 */
public record Caller(
        UUID operatorId,
        String name,
        Role role,
        boolean mustChangePassword,
        boolean enrolOnly,
        UUID signInId,
        boolean browser,
        Instant freshUntil,
        Optional<UUID> personId) {
    /** As the journal names an operator: by id, so that names can change. */
    public String reference() {
        return "operator:" + operatorId;
    }
}
