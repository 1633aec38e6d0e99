package tender.core.wire;

/** Text in HTML. */
public final class Html {
    private Html() {}

    /** A text as it may stand between tags or in a quoted attribute. */
    public static String escaped(String text) {
        return text.replace("&", "&amp;")
                .replace("<", "&lt;")
                .replace(">", "&gt;")
                .replace("\"", "&quot;")
                .replace("'", "&#39;");
    }
}
