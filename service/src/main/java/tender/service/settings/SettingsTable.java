package tender.service.settings;

/** The settings as a table for the documents: {@code docs/settings.md} is this text, and a test holds it. */
final class SettingsTable {
    private SettingsTable() {}

    static String markdown() {
        StringBuilder out = new StringBuilder(
                "| key | variable | default | allowed | meaning |\n| --- | --- | --- | --- | --- |\n");
        for (Setting s : Setting.values()) {
            out.append("| `")
                    .append(s.key())
                    .append("` | `")
                    .append(s.variable())
                    .append("` | ")
                    .append(s.fallback().isEmpty() ? "" : "`" + s.fallback() + "`")
                    .append(" | ")
                    .append(s.allowed())
                    .append(" | ")
                    .append(s.meaning())
                    .append(" |\n");
        }
        return out.toString();
    }
}
