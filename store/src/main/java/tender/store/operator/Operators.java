package tender.store.operator;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;
import tender.store.secret.ColumnCipher;

/** Accounts that sign in to Tender. */
public final class Operators {
    /** An account; the one-time-code seed is opened apart. */
    public record Operator(
            UUID id, String name, String role, String passwordHash, boolean mustChange, boolean hasCode, int version) {}

    private final ColumnCipher cipher;

    public Operators(ColumnCipher cipher) {
        this.cipher = cipher;
    }

    private static final String COLUMNS = "id, name, role, password_hash, must_change, totp_confirmed, version";

    private static Operator operator(Row row) {
        return new Operator(
                row.id("id"),
                row.text("name"),
                row.text("role"),
                row.text("password_hash"),
                row.flag("must_change"),
                row.flag("totp_confirmed"),
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

    private static final String BY_NAME = "select " + COLUMNS + " from operator where name = ?";

    public Optional<Operator> byName(Tx tx, String name) {
        return tx.first(BY_NAME, p -> p.text(name), Operators::operator);
    }

    private static final String LIST = "select " + COLUMNS + " from operator order by name";

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

    private static final String SET_SEED = """
            update operator
            set totp_secret = ?, totp_confirmed = ?, version = version + 1
            where id = ?""";

    public void setSeed(Tx tx, UUID id, Secret seed, boolean confirmed) {
        tx.updateOne(
                SET_SEED,
                p -> p.bytes(cipher.seal(seed, "operator.totp_secret/" + id))
                        .flag(confirmed)
                        .id(id));
    }

    private static final String SEED = "select totp_secret from operator where id = ? and totp_secret is not null";

    public Optional<Secret> seed(Tx tx, UUID id) {
        return tx.first(
                SEED, p -> p.id(id), row -> cipher.open(row.bytes("totp_secret"), "operator.totp_secret/" + id));
    }
}
