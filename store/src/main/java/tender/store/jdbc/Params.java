package tender.store.jdbc;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.Collection;
import java.util.Optional;
import java.util.UUID;

/** Binds a statement's arguments in order. */
public final class Params {
    private final PreparedStatement statement;
    private int next = 1;

    Params(PreparedStatement statement) {
        this.statement = statement;
    }

    private interface Bind {
        void at(int index) throws SQLException;
    }

    private Params bind(Bind bind) {
        try {
            bind.at(next++);
            return this;
        } catch (SQLException e) {
            throw Sql.translate("binding argument " + (next - 1), e);
        }
    }

    /** The next parameter; null is written as null. */
    public Params text(String value) {
        return bind(i -> statement.setString(i, value));
    }

    public Params text(Optional<String> value) {
        return text(value.orElse(null));
    }

    public Params integer(int value) {
        return bind(i -> statement.setInt(i, value));
    }

    public Params number(long value) {
        return bind(i -> statement.setLong(i, value));
    }

    public Params number(Optional<Long> value) {
        return bind(i -> statement.setObject(i, value.orElse(null), Types.BIGINT));
    }

    public Params decimal(Optional<Double> value) {
        return bind(i -> statement.setObject(i, value.orElse(null), Types.DOUBLE));
    }

    public Params flag(Optional<Boolean> value) {
        return bind(i -> statement.setObject(i, value.orElse(null), Types.BOOLEAN));
    }

    public Params flag(boolean value) {
        return bind(i -> statement.setBoolean(i, value));
    }

    public Params id(UUID value) {
        return bind(i -> statement.setObject(i, value, Types.OTHER));
    }

    public Params id(Optional<UUID> value) {
        return id(value.orElse(null));
    }

    public Params bytes(byte[] value) {
        return bind(i -> statement.setBytes(i, value));
    }

    /** The next parameter, to the microsecond, as the database keeps it; null is written as null. */
    public Params instant(Instant value) {
        return bind(i -> statement.setObject(
                i,
                value == null ? null : OffsetDateTime.ofInstant(value, ZoneOffset.UTC),
                Types.TIMESTAMP_WITH_TIMEZONE));
    }

    public Params instant(Optional<Instant> value) {
        return instant(value.orElse(null));
    }

    /** An array of text; cast to the wanted type in the statement. */
    public Params texts(Collection<?> values) {
        return bind(i -> statement.setArray(
                i,
                statement
                        .getConnection()
                        .createArrayOf(
                                "text",
                                values.stream()
                                        .map(v -> v == null ? null : v.toString())
                                        .toArray())));
    }

    public Params numbers(Collection<Long> values) {
        return bind(i -> statement.setArray(i, statement.getConnection().createArrayOf("bigint", values.toArray())));
    }

    public Params ids(Collection<UUID> values) {
        return bind(i -> statement.setArray(i, statement.getConnection().createArrayOf("uuid", values.toArray())));
    }
}
