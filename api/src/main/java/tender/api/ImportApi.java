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
     * @param passphrase opens locked key stores, to look whose they are
     * @param keepPassphrase keeps it, encrypted, with each profile whose file it opens, for trials and handouts
     * @param decision why dangerous lines may stay; without it a file with such lines is held back
     */
    public record Import(
            Optional<String> listener,
            Optional<String> name,
            Optional<String> content,
            Optional<Map<String, String>> assign,
            Optional<List<String>> refuse,
            Optional<Secret> passphrase,
            Optional<Boolean> keepPassphrase,
            Optional<String> decision,
            Optional<Boolean> dryRun) {}

    public record Repair(String rule, String reason, int line, String before, String after) {}

    /**
     * What became of one file.
     *
     * @param state imported, renewed (a new revision of the profile that the device had), present (from before), asked (whose it is cannot be told), held-back (dangerous lines) or refused
     * @param matchedBy certificate, account, file name, folder, or said
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

    /**
     * Client files of gateways that nobody entered yet.
     *
     * @param files with their paths, where they lie in folders
     * @param passphrase opens locked key stores, to look whose they are
     * @param keepPassphrase keeps it, encrypted, with each profile whose file it opens, for trials and handouts
     * @param decision why dangerous lines may stay; without it a file with such lines is held back
     * @param dryRun say what would be created, and keep nothing
     */
    public record ImportFiles(
            List<InspectApi.File> files,
            Optional<Corrections> corrections,
            Optional<Secret> passphrase,
            Optional<Boolean> keepPassphrase,
            Optional<String> decision,
            Optional<Boolean> dryRun) {}

    /**
     * What is to be otherwise than proposed.
     *
     * @param names of gateways, by the proposed name
     * @param sites of gateways, by the gateway's proposed name
     * @param kinds of gateways (router, nas or firewall), by the gateway's proposed name
     * @param assign whose files are, by path: {@code mara/laptop}
     * @param leaveOut paths of files that are not imported
     */
    public record Corrections(
            Optional<Map<String, String>> names,
            Optional<Map<String, String>> sites,
            Optional<Map<String, String>> kinds,
            Optional<Map<String, String>> assign,
            Optional<List<String>> leaveOut) {}

    /** @param exists whether it is in the records already */
    public record NewSite(String name, Map<String, String> networks, boolean exists) {}

    /**
     * A gateway that the files call.
     *
     * @param proposed what it is called without a correction
     * @param calls hosts that its files call, those first that most files call
     * @param listeners those that are added
     */
    public record NewGateway(
            String name,
            String proposed,
            String site,
            String kind,
            List<String> calls,
            List<NewListener> listeners,
            int files,
            boolean exists) {}

    public record NewListener(String name, String protocol, Map<String, String> settings) {}

    public record NewPerson(String handle, String name, List<NewDevice> devices, boolean exists) {}

    public record NewDevice(String name, String kind, boolean exists) {}

    /** @param listener empty where the gateway has none that the file calls */
    public record PlacedFile(String gateway, Optional<String> listener, File file) {}

    /** A file that is no client file. */
    public record OtherFile(String path, String kind) {}

    /** What was created of files, or would be. */
    public record Proposed(
            List<NewSite> sites,
            List<NewGateway> gateways,
            List<NewPerson> people,
            List<PlacedFile> files,
            List<OtherFile> others,
            int imported,
            int present,
            boolean dryRun) {}

    private ImportApi() {}
}
