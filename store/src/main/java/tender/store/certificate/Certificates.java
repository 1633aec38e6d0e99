package tender.store.certificate;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;
import tender.store.secret.ColumnCipher;
import tender.store.secret.EncryptedColumn;

/** Certificates that the company's authorities signed, with their sealed keys where those are held. */
public final class Certificates {
    /** A certificate without its key; {@code purpose} is server or client, {@code custody} a word of Custody. */
    public record Certificate(
            UUID id,
            UUID authorityId,
            String authority,
            String serial,
            String purpose,
            String commonName,
            List<String> names,
            byte[] content,
            String custody,
            Optional<UUID> deviceId,
            Optional<UUID> profileId,
            Optional<UUID> gatewayId,
            Instant starts,
            Instant ends,
            Optional<Instant> revokedAt,
            Optional<Integer> reason,
            Instant madeAt) {}

    private final ColumnCipher cipher;

    public Certificates(ColumnCipher cipher) {
        this.cipher = cipher;
    }

    /** A profile whose certificate nears its end, with the life that it had. */
    public record Nearing(UUID profileId, Instant starts, Instant ends) {}

    private static final String NEARING = """
            select p.id as profile_id, c.valid_from, c.expires_at
            from profile p
            join profile_listener pl on pl.profile_id = p.id and pl.position = 0 and not pl.expiry_explicit
            join lateral (
                select valid_from, expires_at from certificate
                where profile_id = p.id and revoked_at is null
                order by expires_at desc limit 1) c on true
            where p.state = 'ready' and p.origin in ('issued', 'canary')
              and c.expires_at > ? and c.expires_at - least(?::interval, (c.expires_at - c.valid_from) / 4) < ?
            order by c.expires_at
            limit ?""";

    /**
     * Profiles whose newest certificate ends within a time, or within the last quarter of its life where that is shorter; none
     * of which somebody said when it ends.
     */
    public static List<Nearing> nearing(Tx tx, Duration within, Instant now, int limit) {
        return tx.list(
                NEARING,
                p -> p.instant(now)
                        .text(within.toSeconds() + " seconds")
                        .instant(now)
                        .integer(limit),
                row -> new Nearing(row.id("profile_id"), row.instant("valid_from"), row.instant("expires_at")));
    }

    private static final String INSERT = """
            insert into certificate (id, authority_id, serial, purpose, common_name, names, certificate, sealed_key, custody,
                                     device_id, profile_id, gateway_id, valid_from, expires_at, created_at)
            values (?, ?, ?, ?, ?, ?::text[], ?, ?, ?, ?, ?, ?, ?, ?, ?)""";

    public void insert(Tx tx, Certificate c, Optional<Secret> key) {
        tx.later(
                INSERT,
                p -> p.id(c.id())
                        .id(c.authorityId())
                        .text(c.serial())
                        .text(c.purpose())
                        .text(c.commonName())
                        .texts(c.names())
                        .bytes(c.content())
                        .bytes(key.map(k -> cipher.seal(k, EncryptedColumn.CERTIFICATE_KEY, c.id()))
                                .orElse(null))
                        .text(c.custody())
                        .id(c.deviceId())
                        .id(c.profileId())
                        .id(c.gatewayId())
                        .instant(c.starts())
                        .instant(c.ends())
                        .instant(c.madeAt()));
    }

    private static final String SELECT = """
            select c.id, c.authority_id, a.name as authority, c.serial, c.purpose, c.common_name, c.names, c.certificate,
                   c.custody, c.device_id, c.profile_id, c.gateway_id, c.valid_from, c.expires_at, c.revoked_at, c.revoked_reason,
                   c.created_at
            from certificate c join authority a on a.id = c.authority_id\s""";

    /** Those after a serial number in the order of serial numbers. */
    public static List<Certificate> page(Tx tx, UUID authorityId, String after, int limit) {
        return tx.list(
                SELECT + "where c.authority_id = ? and c.serial > ? order by c.serial limit ?",
                p -> p.id(authorityId).text(after).integer(limit),
                Certificates::row);
    }

    public static Optional<Certificate> byId(Tx tx, UUID id) {
        return tx.first(SELECT + "where c.id = ?", p -> p.id(id), Certificates::row);
    }

    private static final String AUTHORITIES_AT =
            "select distinct authority_id from certificate where gateway_id = ? and purpose = 'client'";

    /** Authorities that signed for callers of a gateway. */
    public static List<UUID> authoritiesAt(Tx tx, UUID gatewayId) {
        return tx.list(AUTHORITIES_AT, p -> p.id(gatewayId), row -> row.id("authority_id"));
    }

    public static Optional<Certificate> bySerial(Tx tx, String serial) {
        return tx.first(SELECT + "where c.serial = ?", p -> p.text(serial), Certificates::row);
    }

    /** The unrevoked one of a profile that ends last. */
    public static Optional<Certificate> ofProfile(Tx tx, UUID profileId) {
        return tx.first(
                SELECT + "where c.profile_id = ? and c.revoked_at is null order by c.expires_at desc limit 1",
                p -> p.id(profileId),
                Certificates::row);
    }

    /** All unrevoked ones of a profile: while one follows another there are two. */
    public static List<Certificate> allOfProfile(Tx tx, UUID profileId) {
        return tx.list(
                SELECT + "where c.profile_id = ? and c.revoked_at is null", p -> p.id(profileId), Certificates::row);
    }

    private static final String SERIALS = "select serial from certificate where authority_id = ?";

    /** Serials of all that Tender signed under an authority. */
    public static Set<String> serials(Tx tx, UUID authorityId) {
        return Set.copyOf(tx.list(SERIALS, p -> p.id(authorityId), row -> row.text("serial")));
    }

    private static final String EXPIRED =
            "select 1 as one from certificate where authority_id = ? and serial = ? and expires_at <= ?";

    public static boolean isExpired(Tx tx, UUID authorityId, String serial, Instant now) {
        return tx.first(EXPIRED, p -> p.id(authorityId).text(serial).instant(now), row -> true)
                .isPresent();
    }

    private static final String GATEWAYS =
            "select distinct gateway_id from certificate where authority_id = ? and gateway_id is not null";

    /** Gateways whose callers have certificates of an authority. */
    public static List<UUID> gatewaysOf(Tx tx, UUID authorityId) {
        return tx.list(GATEWAYS, p -> p.id(authorityId), row -> row.id("gateway_id"));
    }

    /** A revoked certificate as a list has it. */
    public record Revoked(String serial, Instant at, int reason) {}

    private static final String KEY = "select sealed_key from certificate where id = ? and sealed_key is not null";

    public Optional<Secret> key(Tx tx, UUID id) {
        return tx.first(
                KEY, p -> p.id(id), row -> cipher.open(row.bytes("sealed_key"), EncryptedColumn.CERTIFICATE_KEY, id));
    }

    private static final String REVOKE = """
            update certificate
            set revoked_at = ?, revoked_reason = ?, sealed_key = null,
                custody = case when custody = 'HELD' then 'ERASED' else custody end
            where id = ? and revoked_at is null""";

    /** Revokes one and erases its key; false where it was revoked before. */
    public static boolean revoke(Tx tx, UUID id, int reason, Instant now) {
        return tx.update(REVOKE, p -> p.instant(now).integer(reason).id(id)) == 1;
    }

    private static Certificate row(Row row) {
        return new Certificate(
                row.id("id"),
                row.id("authority_id"),
                row.text("authority"),
                row.text("serial"),
                row.text("purpose"),
                row.text("common_name"),
                row.texts("names"),
                row.bytes("certificate"),
                row.text("custody"),
                row.optionalId("device_id"),
                row.optionalId("profile_id"),
                row.optionalId("gateway_id"),
                row.instant("valid_from"),
                row.instant("expires_at"),
                row.optionalInstant("revoked_at"),
                row.optionalNumber("revoked_reason").map(Long::intValue),
                row.instant("created_at"));
    }
}
