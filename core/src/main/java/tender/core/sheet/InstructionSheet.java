package tender.core.sheet;

import static tender.core.wire.Html.escaped;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;

/** What somebody has to do by hand at a gateway, as one page to print and to tick off. */
public final class InstructionSheet {
    /**
     * One thing to do.
     *
     * @param what in a sentence or two
     * @param values to enter, by field
     * @param texts to copy as they stand, by what each is
     * @param notes such as why, who is cut off, and what is checked afterwards, by what each is
     */
    public record Entry(
            String what, Map<String, String> values, Map<String, Secret> texts, Map<String, String> notes) {}

    private InstructionSheet() {}

    /** The page; it holds what is secret in the texts. */
    public static String html(String title, String intro, List<Entry> entries) {
        StringBuilder out = new StringBuilder(SheetHtml.head("en", title))
                .append("<p>")
                .append(escaped(intro))
                .append("</p>\n");
        int number = 1;
        for (Entry e : entries) {
            int end = e.what().indexOf(". ");
            String first = end < 0 ? e.what() : e.what().substring(0, end + 1);
            out.append("<h2>")
                    .append(number++)
                    .append(". ")
                    .append(escaped(first))
                    .append("</h2>\n");
            if (end >= 0) {
                out.append("<p>").append(escaped(e.what().substring(end + 2))).append("</p>\n");
            }
            rows(e).forEach(out::append);
            e.texts()
                    .forEach((label, text) -> out.append("<p>")
                            .append(escaped(label))
                            .append(", to copy:</p><pre>")
                            .append(escaped(text.revealText(RevealSecret.TO_HAND_OUT)))
                            .append("</pre>\n"));
            e.notes()
                    .forEach((label, note) -> out.append("<p><strong>")
                            .append(escaped(label))
                            .append("</strong> ")
                            .append(escaped(note))
                            .append("</p>\n"));
            out.append("<p>Done on ______________ by ______________</p>\n");
        }
        return out.append("</body></html>\n").toString();
    }

    private static List<String> rows(Entry e) {
        List<String> out = new ArrayList<>();
        if (!e.values().isEmpty()) {
            out.add("<table>\n");
            e.values()
                    .forEach((label, value) -> out.add("<tr><th scope=\"row\">" + escaped(label) + "</th><td><code>"
                            + escaped(value) + "</code></td></tr>\n"));
            out.add("</table>\n");
        }
        return out;
    }
}
