package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.credential.Secret;

/** Sessions, backups, findings, jobs, the journal and the overview. */
public final class WatchApi {
    public record Session(
            String id,
            String gateway,
            String listener,
            Optional<String> profile,
            Optional<String> person,
            Optional<String> personName,
            Optional<String> device,
            String origin,
            List<String> addresses,
            String endpoint,
            Instant since,
            Instant lastHeard,
            Optional<Instant> endedAt,
            long received,
            long sent) {}

    public record TakeBackup(Optional<String> reason) {}

    public record Difference(String path, String kind, int linesAdded, int linesRemoved) {}

    /** A setting of the gateway that differs from the backup before; empty text for what is not there. */
    public record SettingDifference(String field, String was, String becomes) {}

    public record Backup(
            String id,
            String gateway,
            int number,
            String reason,
            Instant takenAt,
            String release,
            int files,
            long bytes,
            String digest,
            List<Difference> differences,
            List<SettingDifference> settings) {}

    /** The passphrase that the downloaded file will open with. */
    public record Download(Secret passphrase) {}

    /**
     * @param key what the finding is fixed or accepted by
     * @param gateway the gateway that it concerns, by name
     * @param oneStep what Tender would change to fix it
     */
    public record Finding(
            String key,
            String code,
            String severity,
            String subjectKind,
            String subjectId,
            String subject,
            String evidence,
            String breaks,
            String remedy,
            Optional<String> gateway,
            Optional<String> oneStep,
            Optional<String> acceptedReason,
            Optional<Instant> acceptedUntil) {}

    /** @param subject what it is about, such as a gateway or a profile, by name */
    public record Job(
            String id,
            String kind,
            Optional<String> subject,
            String state,
            int progress,
            String note,
            int attempts,
            Instant createdAt,
            Optional<Instant> endedAt) {}

    /**
     * @param who the actor's name of today
     * @param what the action and its subject's name of today, in words
     */
    public record JournalEntry(
            long number,
            Instant at,
            String who,
            String what,
            String actor,
            String action,
            String subjectKind,
            String subjectId,
            String detail,
            String hash) {}

    /** The end of the chain, as somebody wrote it down elsewhere. */
    public record Head(long number, String hash) {}

    /**
     * Whether every entry follows the one before.
     *
     * @param head where the chain ends now
     * @param headHolds whether the entry asked about stands as it did
     */
    public record Chain(boolean whole, Optional<Long> firstBroken, Head head, Optional<Boolean> headHolds) {}

    /** An area of the work: how much there is, how much waits, and the worst of it in words. */
    public record Area(String key, String label, long count, long waiting, String worst) {}

    /**
     * Something that needs attention.
     *
     * @param kind unreachable, identity, failed, files-requested, not-refused, not-handed-out, uncollected, failing, unproven or without-backup
     * @param words how many of what, such as "2 gateways do not answer"
     * @param action what to do about it, as a button says it
     */
    public record Attention(String kind, long count, String words, String action) {}

    public record Overview(
            List<Area> areas,
            List<Attention> attention,
            List<Finding> findings,
            List<InstructionApi.Instruction> instructions,
            List<ProfileApi.Profile> neverSeen,
            List<Session> connected) {}

    public record Hit(String kind, String id, String label, String detail) {}

    public record Health(String state, String version, String node) {}

    private WatchApi() {}
}
