package tender.core.sheet;

import java.util.ArrayList;
import java.util.List;

/** A sheet as plain text, wide enough for any mail program. */
public final class SheetText {
    private static final int WIDTH = 78;

    private SheetText() {}

    public static String of(SettingsSheet sheet) {
        StringBuilder out = new StringBuilder(sheet.title() + "\n"
                + "=".repeat(Math.min(WIDTH, sheet.title().length())) + "\n" + sheet.intro() + "\n\n");
        sheet.warnings().forEach(w -> wrap(out, "!  ", "   ", w));
        if (!sheet.warnings().isEmpty()) {
            out.append('\n');
        }
        int number = 1;
        for (Prompt p : sheet.prompts()) {
            wrap(
                    out,
                    "%2d. ".formatted(number++),
                    "    ",
                    p.label() + " (" + sheet.texts().get("sheet." + p.kind().word()) + ")");
            wrap(out, "      ", "      ", p.value());
            wrap(out, "      ", "      ", "- " + p.meaning());
        }
        out.append('\n');
        sheet.facts().forEach(f -> wrap(out, "", "", f));
        return out.toString();
    }

    private static void wrap(StringBuilder out, String first, String next, String text) {
        for (String line : lines(text, WIDTH - next.length())) {
            out.append(first).append(line).append('\n');
            first = next;
        }
    }

    /** Words on lines of at most so many characters; a longer word stands alone and whole. */
    static List<String> lines(String text, int width) {
        List<String> out = new ArrayList<>();
        StringBuilder line = new StringBuilder();
        for (String word : text.split(" ")) {
            if (!line.isEmpty() && line.length() + 1 + word.length() > width) {
                out.add(line.toString());
                line.setLength(0);
            }
            line.append(line.isEmpty() ? "" : " ").append(word);
        }
        out.add(line.toString());
        return out;
    }
}
