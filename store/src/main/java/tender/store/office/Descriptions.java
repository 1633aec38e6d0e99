package tender.store.office;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** Device descriptions that the company added; one counts only while an owner has approved its very text. */
public final class Descriptions {
    /** A description's text. */
    public record Description(
            String name,
            byte[] content,
            String digest,
            Optional<String> approvedDigest,
            Optional<String> approvedBy,
            Instant changedAt) {
        public boolean isApproved() {
            return approvedDigest.filter(digest::equals).isPresent();
        }
    }

    private Descriptions() {}

    private static final String PUT = """
            insert into device_description (name, content, digest, changed_at)
            values (?, ?, ?, ?)
            on conflict (name) do update
            set content = excluded.content, digest = excluded.digest, changed_at = excluded.changed_at""";
    private static final String APPROVE =
            "update device_description set approved_digest = ?, approved_by = ? where name = ? and digest = ?";
    private static final String SELECT =
            "select name, content, digest, approved_digest, approved_by, changed_at from device_description ";

    public static void put(Tx tx, String name, byte[] content, String digest, Instant now) {
        tx.updateOne(PUT, p -> p.text(name).bytes(content).text(digest).instant(now));
    }

    /** False when the text is no longer the one with this digest. */
    public static boolean approve(Tx tx, String name, String digest, String by) {
        return tx.update(APPROVE, p -> p.text(digest).text(by).text(name).text(digest)) == 1;
    }

    public static Optional<Description> byName(Tx tx, String name) {
        return tx.first(SELECT + "where name = ?", p -> p.text(name), Descriptions::row);
    }

    public static List<Description> all(Tx tx) {
        return tx.list(SELECT + "order by name", p -> p, Descriptions::row);
    }

    private static Description row(Row row) {
        return new Description(
                row.text("name"),
                row.bytes("content"),
                row.text("digest"),
                row.optionalText("approved_digest"),
                row.optionalText("approved_by"),
                row.instant("changed_at"));
    }
}
