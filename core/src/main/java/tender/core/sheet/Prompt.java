package tender.core.sheet;

/**
 * One thing that a device asks for.
 *
 * @param label what the prompt is about, in the trade's words
 * @param value what to enter; for a secret, which one is meant, never the secret itself
 * @param meaning what it is
 */
public record Prompt(Kind kind, String label, String value, String meaning) {
    /** How the value gets in. */
    public enum Kind {
        TYPE("type"),
        CHOOSE("choose"),
        FILE("file"),
        SECRET("secret");

        private final String word;

        Kind(String word) {
            this.word = word;
        }

        public String word() {
            return word;
        }
    }
}
