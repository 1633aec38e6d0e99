package tender.store.jdbc;

/** Makes a value of the current row. */
@FunctionalInterface
public interface RowMapper<T> {
    T map(Row row);
}
