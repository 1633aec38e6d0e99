package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.office.Change;

/** Changes of devices' settings, their impact, and what was changed at devices. */
public final class ChangeApi {
    /**
     * Changes to make, in order; their forms are those of the gateway API.
     *
     * @param temporarySeconds after which they are rolled back unless kept
     * @param at when to make them; now where missing
     * @param removeWhenUnused the listener that goes when its last user has moved, or at {@code removeAt}
     * @param why what it is for, for whoever makes it by hand
     */
    public record Order(
            List<Change> changes,
            Optional<Integer> temporarySeconds,
            Optional<Instant> at,
            Optional<String> removeWhenUnused,
            Optional<Instant> removeAt,
            Optional<String> why) {}

    /**
     * What the changes would do.
     *
     * @param cutOff those connected now who are cut for a moment
     * @param byHand whether they become an instruction for a person, since Tender does not write the gateway
     */
    public record Preview(
            List<String> words,
            String restart,
            String restartWords,
            List<String> cutOff,
            int works,
            List<Affected> affected,
            List<WatchApi.Finding> appears,
            List<WatchApi.Finding> vanishes,
            boolean guarded,
            boolean byHand) {}

    /** A file that the change concerns; fate is refreshes or needs-handout. */
    public record Affected(String profileId, String label, String person, String fate, List<Difference> differences) {}

    public record Difference(String field, String was, String becomes) {}

    public record DeviceChange(
            String id,
            String gateway,
            String state,
            String words,
            String note,
            Optional<Instant> revertAt,
            boolean armedOnDevice,
            Optional<String> removeWhenUnused,
            Optional<Instant> removeAt,
            List<String> usersLeft,
            Instant orderedAt,
            Optional<Instant> endedAt) {}

    /**
     * An ordered change.
     *
     * @param jobId the job that makes it; empty where somebody has to make it by hand
     */
    public record Ordered(DeviceChange change, Optional<String> jobId) {}

    /** What is to change at one gateway. */
    public record Member(String gateway, List<Change> changes) {}

    /** Changes of several gateways that are made together: all of them, or none. */
    public record OrderSet(List<Member> members) {}

    public record MemberPreview(String gateway, Preview preview) {}

    /** @param members each with those before it made already */
    public record SetPreview(List<MemberPreview> members) {}

    /** @param state ordered, writing, keeping, kept or failed */
    public record ChangeSet(
            String id,
            String state,
            String note,
            List<DeviceChange> changes,
            Instant orderedAt,
            Optional<Instant> endedAt) {}

    /** The set and the job that makes it. */
    public record OrderedSet(ChangeSet set, String jobId) {}

    public record Drift(
            String field,
            String was,
            String becomes,
            Instant seenAt,
            Optional<Instant> lastSeenOtherwiseAt,
            boolean noted) {}

    /**
     * Where a setting of a gateway managed by hand is known from.
     *
     * @param source files, entered or trial
     */
    public record KnownFrom(String source, String value, Instant at) {}

    /**
     * A listener's setting with its explanation.
     *
     * @param knownFrom the newest first; empty where the device says it
     */
    public record ExplainedSetting(
            String setting,
            String value,
            String does,
            String costs,
            String safe,
            boolean clientsDepend,
            String restart,
            List<KnownFrom> knownFrom) {}

    public record ExplainedListener(String name, String protocol, List<ExplainedSetting> settings) {}

    /**
     * All that a gateway said of itself when last read.
     *
     * @param drift what was changed at the device and nobody has taken note of yet, newest first
     */
    public record Facts(
            Map<String, String> facts,
            List<String> uplinks,
            List<String> networks,
            List<String> interfaces,
            List<String> forwards,
            List<String> rules,
            List<String> accounts,
            List<ExplainedListener> listeners,
            List<Drift> drift) {}

    public record Log(List<String> lines) {}

    /** The finding of this key. */
    public record FindingKey(String key) {}

    public record Accept(String key, String reason, Instant until) {}

    private ChangeApi() {}
}
