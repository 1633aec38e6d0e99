package tender.core.sheet;

import static tender.core.wire.Html.escaped;

/** A sheet as one HTML page without script, to read on a screen or print on one side of paper; well-formed XML, too. */
public final class SheetHtml {
    /** The fonts that are asked for first; whoever makes a file of the page gives them. */
    public static final String SANS = "Liberation Sans";

    public static final String MONO = "Liberation Mono";

    private static final String STYLE = "body{font:16px/1.45 '" + SANS
            + "',sans-serif;max-width:44rem;margin:2rem auto;padding:0 1rem;color:#1c2526;background:#fff}"
            + "h1{font-size:1.35rem;margin:0}h2{font-size:1.1rem;margin:1.6rem 0 0}"
            + "pre{font:12px/1.4 '" + MONO
            + "',monospace;white-space:pre-wrap;word-wrap:break-word;border:1px solid #b9c3c3;padding:.4rem}"
            + "table{border-collapse:collapse;width:100%;margin:1rem 0}"
            + "td,th{border-top:1px solid #b9c3c3;padding:.45rem .6rem .45rem 0;text-align:left;vertical-align:top}"
            + "th{font-weight:600;width:13rem}code{font:600 1rem '" + MONO
            + "',monospace;overflow-wrap:anywhere;word-wrap:break-word}"
            + "small{color:#4b5757;display:block}.warn{border-left:4px solid #a33;padding:.3rem .8rem}"
            + "@media print{body{margin:0;max-width:none;font-size:11pt}}@page{size:A4;margin:18mm}";

    private SheetHtml() {}

    /** The beginning of a page, with its title as the first heading. */
    static String head(String language, String title) {
        return "<!DOCTYPE html>\n<html lang=\"" + language + "\"><head><meta charset=\"utf-8\"/><title>"
                + escaped(title) + "</title><meta name=\"viewport\" content=\"width=device-width\"/><style>" + STYLE
                + "</style></head><body>\n<h1>" + escaped(title) + "</h1>\n";
    }

    public static String of(SettingsSheet sheet) {
        StringBuilder out = new StringBuilder(head(sheet.texts().language(), sheet.title()))
                .append("<p>")
                .append(escaped(sheet.intro()))
                .append("</p>\n");
        sheet.warnings()
                .forEach(w -> out.append("<p class=\"warn\"><strong>")
                        .append(escaped(sheet.texts().get("sheet.weak")))
                        .append("</strong> ")
                        .append(escaped(w))
                        .append("</p>\n"));
        out.append("<table>\n");
        int number = 1;
        for (Prompt p : sheet.prompts()) {
            boolean literal = p.kind() == Prompt.Kind.TYPE || p.kind() == Prompt.Kind.FILE;
            out.append("<tr><th scope=\"row\">")
                    .append(number++)
                    .append(". ")
                    .append(escaped(p.label()))
                    .append("</th><td>")
                    .append(literal ? "<code>" : "")
                    .append(escaped(p.value()))
                    .append(literal ? "</code>" : "")
                    .append("<small>")
                    .append(escaped(p.meaning()))
                    .append("</small></td></tr>\n");
        }
        out.append("</table>\n");
        sheet.facts().forEach(f -> out.append("<p>").append(escaped(f)).append("</p>\n"));
        return out.append("</body></html>\n").toString();
    }
}
