package tender.core.finding;

import java.util.Locale;

/** The rules as a document. */
public final class Catalogue {
    private Catalogue() {}

    public static String markdown() {
        StringBuilder out = new StringBuilder("# Findings\n\n")
                .append("What Tender looks for by itself, ")
                .append(Rule.values().length)
                .append(
                        " rules. *error*: somebody cannot work; *warning*: somebody will not be able to, or something is open")
                .append(" that should not be; *notice*: worth knowing. Generated from the rules.\n");
        Rule.Theme theme = null;
        for (Rule rule : Rule.values()) {
            if (rule.theme() != theme) {
                theme = rule.theme();
                out.append("\n## ")
                        .append(theme.title())
                        .append(
                                "\n\n| code | | what is found | what it breaks | what to do |\n| --- | --- | --- | --- | --- |\n");
            }
            out.append("| `")
                    .append(rule.code())
                    .append("` | ")
                    .append(rule.severity().name().toLowerCase(Locale.ROOT))
                    .append(" | ")
                    .append(rule.looks())
                    .append(" | ")
                    .append(rule.breaks())
                    .append(" | ")
                    .append(rule.remedy())
                    .append(" |\n");
        }
        return out.toString();
    }
}
