package tender.core.inspect;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import tender.core.finding.Severity;
import tender.core.inspect.Inspection.Note;

/** What can be done with files that were looked into, in one word and one sentence. */
public record Judgement(Verdict verdict, String words) {
    /** From the best to the worst. */
    public enum Verdict {
        USABLE,
        USABLE_AFTER,
        NOT_KNOWN,
        NOT_USABLE,
        DANGEROUS;

        public String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    private static final int FEW = 3;

    public static Judgement of(List<Inspection> all) {
        List<Placed> notes = new ArrayList<>();
        all.forEach(i -> collect(i, all.size() > 1 || !i.parts().isEmpty(), notes));
        Optional<String> dangers =
                sentences(notes.stream().filter(n -> n.hint().isDangerous()).toList(), Placed::says);
        if (dangers.isPresent()) {
            return new Judgement(Verdict.DANGEROUS, "dangerous: " + dangers.get());
        }
        Optional<String> faults = sentences(
                notes.stream()
                        .filter(n -> n.hint().severity() == Severity.ERROR
                                && !n.hint().isCompleted())
                        .toList(),
                Placed::says);
        if (faults.isPresent()) {
            return new Judgement(Verdict.NOT_USABLE, "not usable, because: " + faults.get());
        }
        if (all.stream().allMatch(i -> i.kind() == Inspection.Kind.UNKNOWN)) {
            return new Judgement(Verdict.NOT_KNOWN, "not known: check it by hand");
        }
        Optional<String> after = sentences(
                notes.stream().filter(n -> n.hint().isCompleted()).toList(),
                n -> bare(n.hint().remedy()));
        if (after.isPresent()) {
            return new Judgement(Verdict.USABLE_AFTER, "usable after: " + after.get());
        }
        long warnings = notes.stream()
                .filter(n -> n.hint().severity() == Severity.WARNING)
                .count();
        return new Judgement(
                Verdict.USABLE,
                warnings == 0
                        ? "usable"
                        : warnings == 1 ? "usable, with a warning" : "usable, with " + warnings + " warnings");
    }

    /** A note and in which file it is, empty where there is but one. */
    private record Placed(String file, Note note) {
        Hint hint() {
            return note.hint();
        }

        /** What it says, with its place and, where the words alone do not tell, its detail. */
        String says() {
            boolean told = hint() != Hint.REFUSED && hint() != Hint.UNREAD;
            String place = Stream.of(file, note.line() > 0 ? "line " + note.line() : "")
                    .filter(t -> !t.isEmpty())
                    .collect(Collectors.joining(", "));
            String what = Stream.of(place, told ? "" : note.detail())
                    .filter(t -> !t.isEmpty())
                    .collect(Collectors.joining(": "));
            return bare(hint().says()) + (what.isEmpty() ? "" : " (" + what + ")");
        }
    }

    private static void collect(Inspection i, boolean named, List<Placed> out) {
        i.notes().forEach(n -> out.add(new Placed(named ? i.name() : "", n)));
        i.parts().forEach(p -> collect(p, named, out));
    }

    private static String bare(String sentence) {
        return Character.toLowerCase(sentence.charAt(0)) + sentence.substring(1).replaceFirst("\\.$", "");
    }

    /** One for each hint, the worst first, and how many more there are. */
    private static Optional<String> sentences(List<Placed> notes, Function<Placed, String> saying) {
        Map<Hint, String> all = new LinkedHashMap<>();
        notes.stream()
                .sorted(Comparator.comparing((Placed n) -> n.hint().severity()))
                .forEach(n -> all.computeIfAbsent(n.hint(), h -> saying.apply(n)));
        String more = all.size() > FEW ? "; and " + (all.size() - FEW) + " more" : "";
        return all.isEmpty()
                ? Optional.empty()
                : Optional.of(all.values().stream().limit(FEW).collect(Collectors.joining("; ")) + more);
    }
}
