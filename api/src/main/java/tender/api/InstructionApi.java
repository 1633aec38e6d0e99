package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.credential.Revealed;
import tender.core.credential.Secret;

/** What somebody has to do by hand at gateways. */
public final class InstructionApi {
    /**
     * An instruction that is open.
     *
     * @param kind admit-peer, close-peer, close-account, close-certificate, upload-list or change
     * @param profileId empty where it is a change of the gateway's settings
     * @param subject the profile's label, or the change in words
     * @param words what to do, and what the last trial found
     * @param orderedBy who wants a change; empty for a profile
     * @param askedOf mail address of whoever was asked to do it
     * @param said whether somebody says that it is done, and nothing has shown otherwise since
     */
    public record Instruction(
            String id,
            String kind,
            String gatewayId,
            String gateway,
            Optional<String> profileId,
            String subject,
            String words,
            Optional<String> orderedBy,
            Instant askedAt,
            Optional<String> askedOf,
            Optional<Instant> sentAt,
            boolean said) {}

    /** What to enter in a field. */
    public record Value(String label, String value) {}

    /** What to copy as it stands. It may hold a secret. */
    public record Text(String label, @Revealed Secret text) {}

    /**
     * An instruction with everything that whoever carries it out needs.
     *
     * @param what to do, in one sentence
     * @param why what it is for
     * @param cuts who is cut off by it
     * @param check how Tender finds out whether it is done
     */
    public record Shown(
            Instruction instruction,
            String what,
            List<Value> values,
            List<Text> texts,
            String why,
            String cuts,
            String check) {}

    /**
     * What came of saying that it is done.
     *
     * @param done whether it is not open any more
     * @param found what a trial or a reading found
     */
    public record Checked(boolean done, String found) {}

    /**
     * Whom to send the open instructions of a gateway.
     *
     * @param to a mail address; the gateway's contact where it is missing
     */
    public record Send(Optional<String> to) {}

    public record Sent(String to, int instructions) {}

    private InstructionApi() {}
}
