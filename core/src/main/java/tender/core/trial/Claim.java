package tender.core.trial;

/**
 * One thing that a trial was asked to show.
 *
 * @param words what it shows where it does, such as "reaches 10.20.4.20"
 * @param otherwise what is said where it does not, such as "does not reach 10.20.4.20"
 */
public record Claim(Kind kind, boolean shown, String words, String otherwise) {
    /** Kinds of claims. */
    public enum Kind {
        /** The program that the file is for takes it. */
        FILE,
        /** Both sides accept each other, and an answer came back through the tunnel. */
        CONNECTS,
        /** A host inside that was named answers through the tunnel. */
        REACHES,
        /** A name server inside tells a name's address. */
        RESOLVES,
        /** Traffic to the outside leaves where the profile says. */
        OUTSIDE,
        /** Somebody answers a stranger. */
        ANSWERS,
        /** Whoever answers a stranger is believed. */
        IDENTITY
    }

    public String said() {
        return shown ? words : otherwise;
    }
}
