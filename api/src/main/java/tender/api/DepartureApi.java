package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** People who left and devices that were lost. */
public final class DepartureApi {
    /** @param dryRun say what would happen, and do nothing */
    public record Leave(Optional<Boolean> dryRun) {}

    /**
     * A profile that ends.
     *
     * @param how it ends at its gateway, in words
     */
    public record Ending(
            String profileId, String profile, String gateway, String listener, String how, boolean connected) {}

    /**
     * What ends when somebody leaves, or a device is lost.
     *
     * @param device empty where the person leaves
     * @param secrets that everybody at a listener shares and that they know
     * @param departureId empty where nothing was done
     */
    public record Plan(
            String handle,
            String person,
            Optional<String> device,
            List<Ending> endings,
            List<String> secrets,
            Optional<String> departureId) {}

    /**
     * Somebody left, or a device was lost.
     *
     * @param profiles that were withdrawn
     * @param open those that nothing has shown to be refused yet
     */
    public record Departure(
            String id,
            String handle,
            String person,
            Optional<String> device,
            String orderedBy,
            Instant orderedAt,
            int profiles,
            int open) {}

    /**
     * Whether a withdrawn profile is shown to be refused.
     *
     * @param state of the profile: withdrawn where the gateway shows that it is gone
     * @param shown open, refused or not-triable
     * @param control what was let in at the same listener in the same minute
     * @param found what the last check found
     */
    public record Refusal(
            String profileId,
            String profile,
            String gateway,
            String listener,
            String state,
            String shown,
            Optional<String> control,
            Optional<String> found,
            Optional<Instant> checkedAt,
            Optional<Instant> endedAt) {}

    public record Shown(Departure departure, List<Refusal> refusals) {}

    private DepartureApi() {}
}
