package tender.store.operator;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;
import tender.store.secret.ColumnCipher;
import tender.store.secret.EncryptedColumn;

/** Accounts that sign in to Tender. */
public final class Operators {
    /** An account; the one-time-code seed is opened apart. */
    public record Operator(
            UUID id,
            String name,
            String role,
            String passwordHash,
            boolean mustChange,
            boolean hasCode,
            boolean disabled,
            int version) {}

    private final ColumnCipher cipher;

    public Operators(ColumnCipher cipher) {
        this.cipher = cipher;
    }

    private static final String COLUMNS =
            "id, name, role, password_hash, must_change, totp_confirmed, disabled_at is not null as disabled, version";

    private static Operator operator(Row row) {
        return new Operator(
                row.id("id"),
                row.text("name"),
                row.text("role"),
                row.text("password_hash"),
                row.flag("must_change"),
                row.flag("totp_confirmed"),
                row.flag("disabled"),
                row.integer("version"));
    }

    private static final String INSERT = """
            insert into operator (id, name, role, password_hash, must_change, created_at)
            values (?, ?, ?, ?, ?, ?)""";

    public void insert(Tx tx, Operator operator, Instant now) {
        tx.updateOne(
                INSERT,
                p -> p.id(operator.id())
                        .text(operator.name())
                        .text(operator.role())
                        .text(operator.passwordHash())
                        .flag(operator.mustChange())
                        .instant(now));
    }

    private static final String BY_NAME = "select " + COLUMNS + " from operator where name = ? and archived_at is null";

    public static Optional<Operator> byName(Tx tx, String name) {
        return tx.first(BY_NAME, p -> p.text(name), Operators::operator);
    }

    private static final String LIST = "select " + COLUMNS + " from operator where archived_at is null order by name";

    public List<Operator> list(Tx tx) {
        return tx.list(LIST, p -> p, Operators::operator);
    }

    private static final String SET_PASSWORD = """
            update operator
            set password_hash = ?, must_change = false, version = version + 1
            where id = ?""";

    public void setPassword(Tx tx, UUID id, String hash) {
        tx.updateOne(SET_PASSWORD, p -> p.text(hash).id(id));
    }

    private static final String RESET_PASSWORD = """
            update operator
            set password_hash = ?, must_change = true, version = version + 1
            where id = ?""";

    /** A password that is to be changed at the next sign-in. */
    public void resetPassword(Tx tx, UUID id, String hash) {
        tx.updateOne(RESET_PASSWORD, p -> p.text(hash).id(id));
    }

    private static final String RESET_CODE = """
            update operator
            set totp_secret = null, totp_confirmed = false, last_code_step = null, version = version + 1
            where id = ?""";

    public static void resetCode(Tx tx, UUID id) {
        tx.updateOne(RESET_CODE, p -> p.id(id));
    }

    private static final String SET_ROLE = "update operator set role = ?, version = version + 1 where id = ?";

    public static void setRole(Tx tx, UUID id, String role) {
        tx.updateOne(SET_ROLE, p -> p.text(role).id(id));
    }

    private static final String DISABLE = "update operator set disabled_at = ?, version = version + 1 where id = ?";

    public static void disable(Tx tx, UUID id, Optional<Instant> at) {
        tx.updateOne(DISABLE, p -> p.instant(at).id(id));
    }

    private static final String OWNERS =
            "select id from operator where role = 'owner' and disabled_at is null order by id for update";

    /** Owners who may sign in, held until the transaction ends, so that two of them cannot remove each other. */
    public static List<UUID> owners(Tx tx) {
        return tx.list(OWNERS, p -> p, row -> row.id("id"));
    }

    private static final String USE_CODE = """
            update operator set last_code_step = ?
            where id = ? and (last_code_step is null or last_code_step < ?)""";

    /** Whether a one-time code of this step counts: each counts once, and none after a later one. */
    public static boolean useCode(Tx tx, UUID id, long step) {
        return tx.update(USE_CODE, p -> p.number(step).id(id).number(step)) == 1;
    }

    private static final String KNOW = """
            insert into known_source (operator_id, source, right_at) values (?, ?, ?)
            on conflict (operator_id, source) do update set right_at = excluded.right_at""";
    private static final String KNOWN =
            "select 1 as one from known_source where operator_id = ? and source = ? and right_at > ?";
    private static final String FORGET_SOURCES = "delete from known_source where right_at < ?";

    /** Notes that somebody was right from a source. */
    public static void know(Tx tx, UUID id, String source, Instant now) {
        tx.updateOne(KNOW, p -> p.id(id).text(source).instant(now));
    }

    public static boolean isKnown(Tx tx, UUID id, String source, Instant since) {
        return tx.first(KNOWN, p -> p.id(id).text(source).instant(since), row -> true)
                .isPresent();
    }

    public static void forgetSources(Tx tx, Instant before) {
        tx.update(FORGET_SOURCES, p -> p.instant(before));
    }

    private static final String SET_SEED = """
            update operator
            set totp_secret = ?, totp_confirmed = ?, version = version + 1
            where id = ?""";

    public void setSeed(Tx tx, UUID id, Secret seed, boolean confirmed) {
        tx.updateOne(
                SET_SEED,
                p -> p.bytes(cipher.seal(seed, EncryptedColumn.ONE_TIME_CODES, id))
                        .flag(confirmed)
                        .id(id));
    }

    private static final String SEED = "select totp_secret from operator where id = ? and totp_secret is not null";

    public Optional<Secret> seed(Tx tx, UUID id) {
        return tx.first(
                SEED, p -> p.id(id), row -> cipher.open(row.bytes("totp_secret"), EncryptedColumn.ONE_TIME_CODES, id));
    }
}
