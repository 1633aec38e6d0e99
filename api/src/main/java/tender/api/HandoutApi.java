package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.credential.Revealed;
import tender.core.credential.Secret;

/** Handing out, and collecting at the staff's page. */
public final class HandoutApi {
    /**
     * One handout.
     *
     * @param legacy whether a key store in it is locked as systems from before about 2019 want it
     * @param revision another than the newest
     * @param override why it is handed out although it is not fit; stands in the journal
     */
    public record Prepare(
            String profile,
            Optional<Integer> hours,
            Optional<Integer> collections,
            Optional<Boolean> legacy,
            Optional<Integer> revision,
            Optional<String> override) {}

    /** Handouts of all profiles that are named, of a gateway, or of a team; those that are not fit are listed. */
    public record PrepareMany(
            Optional<List<String>> profiles,
            Optional<String> gateway,
            Optional<String> team,
            Optional<Integer> hours,
            Optional<Integer> collections,
            Optional<Boolean> legacy,
            Optional<Boolean> dryRun) {}

    /** Why a profile's file is not fit to be handed out: a stable code, words, the very values, and what to do. */
    public record Reason(String code, String words, String detail, String fix) {}

    public record Unfit(String profile, List<Reason> reasons) {}

    /** @param fit labels of those that are, where nothing was prepared */
    public record PreparedMany(List<Prepared> prepared, List<String> fit, List<Unfit> unfit) {}

    /** Link and passphrase are shown here and never again; they belong on two different ways. */
    public record Prepared(
            Handout handout,
            @Revealed Secret link,
            @Revealed Secret passphrase) {}

    public record Handout(
            String id,
            String profile,
            Optional<String> person,
            Optional<String> personName,
            Optional<String> device,
            String gateway,
            int revision,
            String fileName,
            String digest,
            String state,
            Instant preparedAt,
            Optional<Instant> sentAt,
            Optional<Instant> collectedAt,
            Optional<Instant> lastSeen,
            Instant expiresAt,
            int collectionsAllowed,
            int collectionsLeft,
            int version) {}

    /** All links of a profile that still work are ended. */
    public record EndLinks(String profile) {}

    public record LinksEnded(int links) {}

    public record Collect(Secret token, Secret passphrase) {}

    /**
     * What the staff's page shows; {@code qr} is an SVG where the client of that kind takes one, {@code parts} are files
     * that belong to it.
     */
    public record Collected(
            String title,
            String fileName,
            @Revealed Secret file,
            @Revealed Optional<Secret> qr,
            List<Part> parts,
            List<String> steps,
            String language) {}

    /** A file beside the first, in base64; its name may be a path under the folder it is put in. */
    public record Part(String name, @Revealed Secret content) {}

    private HandoutApi() {}
}
