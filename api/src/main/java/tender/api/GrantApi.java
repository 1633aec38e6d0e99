package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Grants: what a team gets at a listener where it differs from everyone else. */
public final class GrantApi {
    /**
     * Sets the rule of a team at a listener, in place of the one there was.
     *
     * @param listener may be left out where the gateway has one
     * @param reach networks in place of everyone's; {@code fullTunnel} sends everything
     * @param dns name servers in place of everyone's
     * @param validDays how long its profiles live, from 1 to 3650 days
     * @param renew whether profiles that differ from it get a new revision at once
     */
    public record Put(
            String gateway,
            Optional<String> listener,
            String team,
            Optional<Boolean> fullTunnel,
            Optional<List<String>> reach,
            Optional<List<String>> dns,
            Optional<Integer> validDays,
            Optional<Boolean> renew,
            Optional<Boolean> dryRun) {}

    /** @param behind labels of the team's profiles that are not as the rule is now */
    public record Grant(
            String id,
            String gateway,
            String listener,
            String team,
            boolean fullTunnel,
            List<String> reach,
            List<String> dns,
            Optional<Integer> validDays,
            List<String> behind,
            Instant setAt) {}

    private GrantApi() {}
}
