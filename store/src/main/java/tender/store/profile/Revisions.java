package tender.store.profile;

import com.fasterxml.jackson.core.type.TypeReference;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.store.document.Document;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;
import tender.store.secret.ColumnCipher;
import tender.store.secret.EncryptedColumn;

/** A profile's files, one a revision; a revision never changes. {@code madeFor} are the settings it depends on, by their words. */
public final class Revisions {
    /** A revision without its content. */
    public record Revision(
            UUID id,
            UUID profileId,
            int number,
            String digest,
            String fileName,
            Map<String, String> madeFor,
            Instant createdAt) {}

    private static final Document<Map<String, String>> MADE_FOR =
            Document.of("what a revision was made for", new TypeReference<>() {});

    private final ColumnCipher cipher;

    public Revisions(ColumnCipher cipher) {
        this.cipher = cipher;
    }

    private static final String INSERT = """
            insert into profile_revision (id, profile_id, number, digest, file_name, content, made_for, created_at)
            values (?, ?, ?, ?, ?, ?, ?::jsonb, ?)""";

    /**
     * @param content encrypted at once; a revision never changes
     */
    public void insert(Tx tx, Revision r, Secret content) {
        tx.later(
                INSERT,
                p -> p.id(r.id())
                        .id(r.profileId())
                        .integer(r.number())
                        .text(r.digest())
                        .text(r.fileName())
                        .bytes(cipher.seal(content, EncryptedColumn.REVISION, r.id()))
                        .text(MADE_FOR.write(r.madeFor()))
                        .instant(r.createdAt()));
    }

    private static final String OF_DIGEST = """
            select r.id, r.profile_id, r.number, (select max(n.number) from profile_revision n where n.profile_id = r.profile_id) as newest
            from profile_revision r
            where r.digest = ?
            order by r.created_at desc
            limit 1""";

    /** A file that is known by its digest: which revision of which profile it is, and the newest there is. */
    public record KnownFile(UUID revisionId, UUID profileId, int number, int newest) {}

    /** The newest revision whose file has this SHA-256, 64 small hexadecimal digits. */
    public static Optional<KnownFile> ofDigest(Tx tx, String digest) {
        return tx.first(
                OF_DIGEST,
                p -> p.text(digest),
                row -> new KnownFile(row.id("id"), row.id("profile_id"), row.integer("number"), row.integer("newest")));
    }

    private static final String COLUMNS = "id, profile_id, number, digest, file_name, made_for, created_at";
    private static final String OF =
            "select " + COLUMNS + " from profile_revision where profile_id = ? order by number desc";

    /** Newest first. */
    public static List<Revision> of(Tx tx, UUID profileId) {
        return tx.list(OF, p -> p.id(profileId), Revisions::revision);
    }

    private static Revision revision(Row row) {
        return new Revision(
                row.id("id"),
                row.id("profile_id"),
                row.integer("number"),
                row.text("digest"),
                row.text("file_name"),
                MADE_FOR.read(row.text("made_for")),
                row.instant("created_at"));
    }

    private static final String CONTENT = "select content from profile_revision where id = ?";

    /** The file; empty where it was erased with its key. */
    public Optional<Secret> content(Tx tx, UUID id) {
        return tx.first(CONTENT, p -> p.id(id), row -> Optional.ofNullable(row.bytes("content")))
                .orElseThrow()
                .map(bytes -> cipher.open(bytes, EncryptedColumn.REVISION, id));
    }

    /**
     * A revision that was handed out, or that a device says it holds, and still counts, for judging whether it fits its listener.
     *
     * @param refreshes whether its device fetches new revisions by itself
     */
    public record Given(
            UUID profileId,
            String label,
            Optional<String> person,
            Optional<String> handle,
            String gateway,
            String listener,
            Map<String, String> madeFor,
            boolean refreshes,
            Optional<Instant> ends) {}

    private static final String GIVEN = """
            select distinct on (p.id) p.id, p.label, n.name as person, n.handle, g.name as gateway, l.name as listener, r.made_for, k.expires_at,
                   exists (select 1 from enrolment e where e.device_id = p.device_id and e.state = 'joined') as refreshes
            from (
                select profile_id, revision_id from handout where withdrawn_at is null
                union all
                select d.profile_id, r.id from delivery d
                join profile_revision r on r.profile_id = d.profile_id and r.number = d.held_revision) h
            join profile_revision r on r.id = h.revision_id
            join profile p on p.id = h.profile_id and p.state = 'ready'
            join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            join listener l on l.id = pl.listener_id
            join credential k on k.id = pl.key_id
            join gateway g on g.id = l.gateway_id
            left join device d on d.id = p.device_id
            left join person n on n.id = d.person_id""";
    private static final String GIVEN_ORDER = " order by p.id, r.number desc";

    public static List<Given> given(Tx tx) {
        return tx.list(GIVEN + GIVEN_ORDER, p -> p, Revisions::given);
    }

    /** Those at some gateways alone. */
    public static List<Given> given(Tx tx, Collection<UUID> gateways) {
        return tx.list(GIVEN + " where g.id = any(?)" + GIVEN_ORDER, p -> p.ids(gateways), Revisions::given);
    }

    private static Given given(Row row) {
        return new Given(
                row.id("id"),
                row.text("label"),
                row.optionalText("person"),
                row.optionalText("handle"),
                row.text("gateway"),
                row.text("listener"),
                MADE_FOR.read(row.text("made_for")),
                row.flag("refreshes"),
                row.optionalInstant("expires_at"));
    }

    private static final String GATEWAYS_OF = """
            select distinct l.gateway_id
            from profile_listener pl
            join listener l on l.id = pl.listener_id
            where pl.profile_id = any(?) or pl.profile_id in (select profile_id from handout where id = any(?))""";

    /** The gateways of profiles, known by their own ids or by those of their handouts. */
    public static Set<UUID> gatewaysOf(Tx tx, Collection<UUID> profilesOrHandouts) {
        return Set.copyOf(tx.list(
                GATEWAYS_OF, p -> p.ids(profilesOrHandouts).ids(profilesOrHandouts), row -> row.id("gateway_id")));
    }
}
