package tender.core.walk;

import java.util.Optional;
import tender.core.office.Change;

/**
 * One hop of a walk: where, what decides it and whether it lets the packet on.
 *
 * @param place the gateway, site or place the hop is at
 * @param decidedBy the record that decides it
 */
public record Hop(Kind kind, Verdict verdict, String place, String decidedBy, String detail, Optional<Remedy> remedy) {
    /** The hops in the order of the way. */
    public enum Kind {
        NAME,
        PLACE,
        LINE,
        FORWARD,
        FILTER_IN_FRONT,
        FILTER,
        LISTENER,
        FILE,
        LOGIN,
        TUNNEL_ADDRESS,
        ROUTE,
        OVERLAP,
        INSIDE_FILTER,
        HOST,
        BACK
    }

    /** How a hop ends; unknown passes, but says so. */
    public enum Verdict {
        PASSES,
        FAILS,
        UNKNOWN
    }

    /** The smallest change that would fix it; {@code change} where Tender can make it at {@code gateway}. */
    public record Remedy(String words, Optional<String> gateway, Optional<Change> change) {}

    public static Hop passes(Kind kind, String place, String decidedBy, String detail) {
        return new Hop(kind, Verdict.PASSES, place, decidedBy, detail, Optional.empty());
    }

    public static Hop fails(Kind kind, String place, String decidedBy, String detail) {
        return new Hop(kind, Verdict.FAILS, place, decidedBy, detail, Optional.empty());
    }

    public static Hop unknown(Kind kind, String place, String decidedBy, String detail) {
        return new Hop(kind, Verdict.UNKNOWN, place, decidedBy, detail, Optional.empty());
    }

    public Hop fixedBy(String words) {
        return new Hop(
                kind,
                verdict,
                place,
                decidedBy,
                detail,
                Optional.of(new Remedy(words, Optional.empty(), Optional.empty())));
    }

    public Hop fixedBy(String gateway, Change change) {
        return new Hop(
                kind,
                verdict,
                place,
                decidedBy,
                detail,
                Optional.of(new Remedy(
                        "On " + gateway + ", " + change.words(), Optional.of(gateway), Optional.of(change))));
    }

    public boolean passes() {
        return verdict != Verdict.FAILS;
    }
}
