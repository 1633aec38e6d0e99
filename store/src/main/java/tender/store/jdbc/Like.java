package tender.store.jdbc;

/** Patterns for {@code like} and {@code ilike}. */
public final class Like {
    private Like() {}

    /** Fits whatever contains the text; its own {@code %}, {@code _} and {@code \} stand for themselves. */
    public static String containing(String text) {
        return "%" + beginning(text);
    }

    /** Fits whatever begins with the text, likewise. */
    public static String beginning(String text) {
        return text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%";
    }
}
