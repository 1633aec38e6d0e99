package tender.store.trial;

import com.fasterxml.jackson.core.type.TypeReference;
import java.util.List;
import java.util.Optional;
import tender.store.document.Document;

/** What rows keep of trials as JSON. */
public final class TrialDocuments {
    /** What a trial was asked to measure: so many echoes, the largest packet and the way outside, a name inside. */
    public record Asked(int echoes, boolean size, Optional<String> insideName) {}

    /** Why a rung failed; {@code certainty} is {@code certain}, {@code likely} or {@code possible}. */
    public record Cause(String code, String certainty, String what, String remedy) {}

    /** What was asked for, by the name of its kind in small letters, and whether it was shown. */
    public record Claim(String kind, boolean shown, String words) {}

    /**
     * What was measured through the tunnel beyond the verdict; times in milliseconds, sizes in bytes.
     *
     * @param lostPercent of the echoes
     */
    public record Measured(
            int echoes,
            double lostPercent,
            double leastMillis,
            double meanMillis,
            double mostMillis,
            Optional<Integer> largestPacket,
            Optional<InsideName> name,
            Optional<Exit> exit,
            Optional<Transfer> transfer) {}

    /** What the name server inside said of a name. */
    public record InsideName(String name, String server, boolean answered, Optional<String> address) {}

    /** Where traffic to the outside left, and whether that is what the profile claims. */
    public record Exit(
            boolean full, Optional<String> direct, Optional<String> through, boolean asClaimed, String words) {}

    /** @param megabits in millions of bits a second, each way */
    public record Transfer(long bytes, double millis, double megabits, String words) {}

    static final Document<Asked> ASKED = Document.of("what a trial was asked", new TypeReference<>() {});
    static final Document<List<Cause>> CAUSES = Document.of("the causes of a rung", new TypeReference<>() {});
    static final Document<List<Claim>> CLAIMS = Document.of("what a trial showed", new TypeReference<>() {});
    static final Document<Measured> MEASURED = Document.of("what a trial measured", new TypeReference<>() {});

    private TrialDocuments() {}
}
