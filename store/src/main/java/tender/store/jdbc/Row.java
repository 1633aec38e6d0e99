package tender.store.jdbc;

import java.sql.Array;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/** The current row of a result, read by column name into our types. */
public final class Row {
    private final ResultSet result;

    Row(ResultSet result) {
        this.result = result;
    }

    private interface Read<T> {
        T get() throws SQLException;
    }

    private static <T> T read(Read<T> read) {
        try {
            return read.get();
        } catch (SQLException e) {
            throw Sql.translate("reading a row", e);
        }
    }

    /**
     * Null where the column is null: for columns that never are.
     *
     * @throws StoreException where the question did not ask for the column; so do all others here
     */
    public String text(String column) {
        return read(() -> result.getString(column));
    }

    /** Empty where the column is null. */
    public Optional<String> optionalText(String column) {
        return Optional.ofNullable(text(column));
    }

    /** Null reads as 0: for columns that are never null. */
    public int integer(String column) {
        return read(() -> result.getInt(column));
    }

    /** Null reads as 0: for columns that are never null. */
    public long number(String column) {
        return read(() -> result.getLong(column));
    }

    public Optional<Long> optionalNumber(String column) {
        return read(() -> Optional.of(result.getLong(column)).filter(value -> !wasNull()));
    }

    public Optional<Double> optionalDecimal(String column) {
        return read(() -> Optional.of(result.getDouble(column)).filter(value -> !wasNull()));
    }

    private boolean wasNull() {
        return read(result::wasNull);
    }

    /** Null reads as false. */
    public boolean flag(String column) {
        return read(() -> result.getBoolean(column));
    }

    public Optional<Boolean> optionalFlag(String column) {
        return read(() -> Optional.ofNullable(result.getObject(column, Boolean.class)));
    }

    public UUID id(String column) {
        return read(() -> result.getObject(column, UUID.class));
    }

    public Optional<UUID> optionalId(String column) {
        return Optional.ofNullable(id(column));
    }

    /** Null where the column is null. */
    public byte[] bytes(String column) {
        return read(() -> result.getBytes(column));
    }

    public Instant instant(String column) {
        return optionalInstant(column).orElse(null);
    }

    public Optional<Instant> optionalInstant(String column) {
        return read(() -> Optional.ofNullable(result.getObject(column, OffsetDateTime.class))
                .map(OffsetDateTime::toInstant));
    }

    /** An array column as text; cast inet[] and cidr[] to text[] in the statement. */
    public List<String> texts(String column) {
        return read(() -> {
            Array array = result.getArray(column);
            List<String> out = new ArrayList<>();
            if (array != null) {
                for (Object value : (Object[]) array.getArray()) {
                    out.add(value.toString());
                }
            }
            return out;
        });
    }
}
