package tender.api;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.credential.Secret;

/** Importing client files that a gateway exported. */
public final class ImportApi {
    /**
     * A file or an archive of a gateway's client files.
     *
     * @param listener may be left out where the gateway has one of the files' kind
     * @param content in base64; missing, the gateway is asked for the client files that it made
     * @param assign whose files are, by path: {@code mara/laptop}; for those that cannot be told
     * @param refuse codes of repair rules that are not to be applied, to any file or, written {@code PATH=RULE}, to one
     * @param passphrase opens locked key stores, to look whose they are; it is not kept
     * @param decision why dangerous lines may stay; without it a file with such lines is held back
     */
    public record Import(
            Optional<String> listener,
            Optional<String> name,
            Optional<String> content,
            Optional<Map<String, String>> assign,
            Optional<List<String>> refuse,
            Optional<Secret> passphrase,
            Optional<String> decision,
            Optional<Boolean> dryRun) {}

    public record Repair(String rule, String reason, int line, String before, String after) {}

    /**
     * What became of one file.
     *
     * @param state imported, asked (whose it is cannot be told), held-back (dangerous lines) or refused
     * @param matchedBy certificate, file name, or said
     */
    public record File(
            String path,
            String state,
            String why,
            Optional<String> person,
            Optional<String> device,
            Optional<String> matchedBy,
            Optional<String> profile,
            List<Repair> repairs,
            List<InspectApi.Note> notes) {}

    public record Imported(List<File> files, int imported, int asked) {}

    private ImportApi() {}
}
