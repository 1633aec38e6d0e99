package tender.store.credential;

import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.CredentialKind;
import tender.core.credential.CredentialState;
import tender.core.credential.Custody;
import tender.core.credential.Secret;
import tender.store.jdbc.Tx;
import tender.store.secret.ColumnCipher;
import tender.store.secret.EncryptedColumn;

/** Keys and preshared keys with purpose, state and custody. */
public final class Credentials {
    /** A credential without its secret. */
    public record Credential(
            UUID id,
            Optional<UUID> deviceId,
            CredentialKind kind,
            String purpose,
            Optional<String> publicPart,
            Custody custody,
            CredentialState state,
            Instant madeAt) {}

    private final ColumnCipher cipher;

    public Credentials(ColumnCipher cipher) {
        this.cipher = cipher;
    }

    private static final String INSERT = """
            insert into credential (id, device_id, kind, purpose, public_part, secret, custody, state, created_at)
            values (?, ?, ?, ?, ?, ?, ?, ?, ?)""";

    /**
     * @param secret encrypted at once; empty where Tender never has it
     */
    public void insert(Tx tx, Credential c, Optional<Secret> secret) {
        tx.later(
                INSERT,
                p -> p.id(c.id())
                        .id(c.deviceId())
                        .text(c.kind().name())
                        .text(c.purpose())
                        .text(c.publicPart())
                        .bytes(secret.map(s -> cipher.seal(s, EncryptedColumn.CREDENTIAL, c.id()))
                                .orElse(null))
                        .text(c.custody().name())
                        .text(c.state().name())
                        .instant(c.madeAt()));
    }

    private static final String REPLACE = """
            update credential set public_part = ?, secret = ?, expires_at = null, state = 'IN_USE', created_at = ?
            where id = ?""";
    private static final String KEY = "select key_id from profile_listener where profile_id = ? and position = 0";

    /**
     * Another key or certificate, which Tender does not keep apart from its file.
     *
     * @param passphrase opens the file's key store or key, where it is kept
     */
    public record Renewed(String publicPart, Optional<Secret> passphrase, Instant at) {}

    public void replace(Tx tx, UUID profileId, Renewed renewed) {
        UUID id = tx.first(KEY, p -> p.id(profileId), row -> row.id("key_id")).orElseThrow();
        tx.updateOne(
                REPLACE,
                p -> p.text(renewed.publicPart())
                        .bytes(renewed.passphrase()
                                .map(s -> cipher.seal(s, EncryptedColumn.CREDENTIAL, id))
                                .orElse(null))
                        .instant(renewed.at())
                        .id(id));
    }

    private static final String SECRET = "select secret from credential where id = ? and secret is not null";

    /** Empty where Tender does not have it, or has erased it. */
    public Optional<Secret> secret(Tx tx, UUID id) {
        return tx.first(SECRET, p -> p.id(id), row -> cipher.open(row.bytes("secret"), EncryptedColumn.CREDENTIAL, id));
    }

    private static final String SECRETS = "select id, secret from credential where id = any(?) and secret is not null";

    /** Secrets by credential; those that are not held are missing. */
    public Map<UUID, Secret> secrets(Tx tx, Collection<UUID> ids) {
        Map<UUID, Secret> out = new HashMap<>();
        tx.list(
                SECRETS,
                p -> p.ids(ids),
                row -> out.put(
                        row.id("id"), cipher.open(row.bytes("secret"), EncryptedColumn.CREDENTIAL, row.id("id"))));
        return out;
    }

    private static final String KEYS = """
            (select unnest(array[pl.key_id, pl.preshared_id, a.credential_id])
             from profile_listener pl left join account a on a.id = pl.account_id
             where pl.profile_id = ?)""";
    private static final String EXPIRES_AT =
            "update credential set expires_at = ?, state = 'CREATED' where id in " + KEYS;

    /** Sets when a profile's credentials end; an empty end lets them live on. */
    public static void expiresAt(Tx tx, UUID profileId, Optional<Instant> until) {
        tx.later(EXPIRES_AT, p -> p.instant(until.orElse(null)).id(profileId));
    }

    private static final String EXPIRE =
            "update credential set state = 'EXPIRED' where expires_at <= ? and state not in ('EXPIRED', 'REVOKED') and id in "
                    + KEYS;

    /** Ends those of a profile whose time is over; whether there were any. */
    public static boolean expire(Tx tx, UUID profileId, Instant now) {
        return tx.update(EXPIRE, p -> p.instant(now).id(profileId)) > 0;
    }

    private static final String EXPIRED = "select 1 as one from credential where state = 'EXPIRED' and id in " + KEYS;

    /** Whether any of a profile's credentials has come to its end. */
    public static boolean isExpired(Tx tx, UUID profileId) {
        return tx.first(EXPIRED, p -> p.id(profileId), row -> true).isPresent();
    }

    /** A profile's credential with an end, and who has to be told of it. */
    public record Ending(
            String label,
            Optional<String> person,
            Optional<String> mail,
            String gateway,
            CredentialKind kind,
            Instant madeAt,
            Instant ends) {}

    private static final String ENDING = """
            select p.label, n.name as person, nullif(n.mail, '') as mail, g.name as gateway, k.kind, k.created_at, k.expires_at
            from credential k
            join profile_listener pl on pl.key_id = k.id
            join profile p on p.id = pl.profile_id and p.state = 'ready'
            join listener l on l.id = pl.listener_id
            join gateway g on g.id = l.gateway_id
            left join device d on d.id = p.device_id
            left join person n on n.id = d.person_id
            where k.expires_at is not null and k.expires_at < ? and p.origin <> 'canary'
            order by k.expires_at, p.label
            limit ?""";

    /** Those that end before a time, soonest first; those that have ended stand first. */
    public static List<Ending> ending(Tx tx, Instant before, int limit) {
        return tx.list(
                ENDING,
                p -> p.instant(before).integer(limit),
                row -> new Ending(
                        row.text("label"),
                        row.optionalText("person"),
                        row.optionalText("mail"),
                        row.text("gateway"),
                        CredentialKind.valueOf(row.text("kind")),
                        row.instant("created_at"),
                        row.instant("expires_at")));
    }

    private static final String REVOKE = """
            update credential
            set state = 'REVOKED', secret = null, custody = case when custody = 'HELD' then 'ERASED' else custody end
            where id in\s""" + KEYS;

    private static final String REVOKED = "update credential set state = 'REVOKED' where id in " + KEYS;

    /** Ends a profile's credentials; what is held of them stays until {@link #erase}. */
    public static void revokedOf(Tx tx, UUID profileId) {
        tx.update(REVOKED, p -> p.id(profileId));
    }

    private static final String ERASE = """
            update credential
            set secret = null, custody = case when custody = 'HELD' then 'ERASED' else custody end
            where state = 'REVOKED' and id in\s""" + KEYS;

    /** Erases what is held of a profile's ended credentials. */
    public static void erase(Tx tx, UUID profileId) {
        tx.update(ERASE, p -> p.id(profileId));
    }

    /** Ends a profile's credentials; held secrets are erased. */
    public void revokeOf(Tx tx, UUID profileId) {
        tx.update(REVOKE, p -> p.id(profileId));
    }
}
