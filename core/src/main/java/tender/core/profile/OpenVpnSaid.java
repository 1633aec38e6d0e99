package tender.core.profile;

import java.util.Optional;
import tender.core.profile.OpenVpnFile.Directive;
import tender.core.wire.ParseProblem;

/** What the directives of an OpenVPN file say together, asked for one or two of them. */
record OpenVpnSaid(OpenVpnFile file) {
    static Optional<ParseProblem> problem(Directive d, String what) {
        return Optional.of(new ParseProblem(d.line(), "refused", d.name() + ": " + what));
    }

    static Optional<ParseProblem> missing(boolean there, String what) {
        return there ? Optional.empty() : Optional.of(new ParseProblem(0, "refused", what));
    }

    boolean has(String name) {
        return file.has(name);
    }

    /** Whether the last of these directives has this first word. */
    boolean is(String name, String word) {
        return file.last(name).flatMap(d -> d.word(0)).filter(word::equals).isPresent();
    }

    Optional<ParseProblem> clash(String one, String other) {
        return has(one) && has(other) ? problem(file.last(other).get(), "contradicts " + one) : Optional.empty();
    }

    /** @param wrong whether the directive may not stand here */
    Optional<ParseProblem> only(String name, boolean wrong, String what) {
        return wrong && has(name) ? problem(file.last(name).get(), what) : Optional.empty();
    }
}
