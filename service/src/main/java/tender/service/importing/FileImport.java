package tender.service.importing;

import java.util.List;
import java.util.Optional;
import tender.core.inspect.Hint;
import tender.core.inspect.Inspection;
import tender.core.proposal.ClientFile;
import tender.core.repair.Repaired;

/**
 * What became of one file.
 *
 * @param owner whose it is, where that can be told
 */
public record FileImport(ClientFile candidate, Optional<Owners.Owner> owner, Repaired repaired, Outcome outcome) {
    /** How it ended. */
    public sealed interface Outcome {
        /** One word for it. */
        String word();

        /** Empty where nothing is left to say. */
        default String why() {
            return "";
        }
    }

    /** A profile was made of it, or a new revision of the one that its device had. */
    public record Imported(String label, boolean renewed) implements Outcome {
        @Override
        public String word() {
            return renewed ? "renewed" : "imported";
        }
    }

    /** The same device's profile with the same key or name is there from before. */
    public record Present(String label) implements Outcome {
        @Override
        public String word() {
            return "present";
        }
    }

    /** Somebody has to say something first. */
    public record Asked(String why) implements Outcome {
        @Override
        public String word() {
            return "asked";
        }
    }

    /** It has dangerous lines. */
    public record HeldBack(String why) implements Outcome {
        @Override
        public String word() {
            return "held-back";
        }
    }

    /** It cannot be imported as it is. */
    public record Declined(String why) implements Outcome {
        @Override
        public String word() {
            return "refused";
        }
    }

    public Optional<String> label() {
        if (outcome instanceof Present present) {
            return Optional.of(present.label());
        }
        return outcome instanceof Imported imported ? Optional.of(imported.label()) : Optional.empty();
    }

    /** What inspection says of it; that parts lie beside it goes without saying once they were put in. */
    List<Inspection.Note> notes() {
        return candidate.inspection().notes().stream()
                .filter(n -> candidate.lacking().isPresent() || n.hint() != Hint.PART_ELSEWHERE)
                .toList();
    }
}
