package tender.client.profile;

import tender.api.ImportApi;
import tender.client.command.Terminal;

/** Says what became of an imported file: whose it is, why it was not imported, what is wrong with it. */
final class ShownFile {
    private ShownFile() {}

    /**
     * Prints it.
     *
     * @param head what stands before whose it is
     * @param lines whether the lines that were repaired are shown, too
     */
    static void print(Terminal terminal, String head, ImportApi.File f, boolean lines) {
        String whose = f.person()
                .map(p -> "  " + p + "/" + f.device().orElse("") + ", by "
                        + f.matchedBy().orElse(""))
                .orElse("");
        terminal.print(head + whose);
        if (!f.why().isEmpty()) {
            terminal.print("    " + f.why());
        }
        f.notes().stream()
                .filter(n -> n.severity().equals("error"))
                .forEach(n -> terminal.print(
                        "    error: " + n.says() + (n.detail().isEmpty() ? "" : " (" + n.detail() + ")")));
        for (ImportApi.Repair r : f.repairs()) {
            terminal.print("    repaired (" + r.rule() + "): " + r.reason());
            if (lines) {
                r.before().lines().forEach(l -> terminal.print("      - " + l));
                r.after().lines().forEach(l -> terminal.print("      + " + l));
            }
        }
    }
}
