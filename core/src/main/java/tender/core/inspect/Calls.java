package tender.core.inspect;

import java.util.regex.Pattern;

/** What is said of a place to call that is no plain name and no address. */
final class Calls {
    /** Marks that templates leave where a name should go. */
    private static final Pattern TEMPLATE = Pattern.compile("(?is).*([<>{}%$\\[\\]]|__"
            + "|\\b(your|my|enter|insert|change|replace|fill|todo|xxx+)\\b|your[-_ ]?(server|host|ip|domain)).*"
            + "|[^.]*(server|address|gateway|hostname|domain|public[-_]?ip)[^.]*|(?-i:[A-Z][A-Z0-9]*(_[A-Z0-9]+)+)");

    private static final Pattern UNUSUAL = Pattern.compile("[\\p{L}\\p{N}\\p{M}_.-]{1,253}");

    private Calls() {}

    static void unclear(String host, int line, Inspection.Draft draft) {
        boolean labels = UNUSUAL.matcher(host).matches()
                && !host.matches("[0-9.]+")
                && !host.contains("..")
                && !host.startsWith(".")
                && !host.matches("(?s).*\\.[0-9]+");
        Hint hint = host.isBlank() || TEMPLATE.matcher(host).matches()
                ? Hint.ENDPOINT_PLACEHOLDER
                : labels ? Hint.NAME_UNUSUAL : Hint.ENDPOINT_WRONG;
        draft.note(hint, line, host);
    }
}
