package tender.store.jdbc;

import java.sql.SQLException;
import org.postgresql.util.PSQLException;

/** What a SQLSTATE means, decided here alone. */
final class Sql {
    private static final String UNIQUE_VIOLATION = "23505";
    private static final String SERIALIZATION_FAILURE = "40001";
    private static final String DEADLOCK = "40P01";

    private Sql() {}

    static StoreException translate(String statement, SQLException e) {
        if (UNIQUE_VIOLATION.equals(e.getSQLState())) {
            boolean named = e instanceof PSQLException p && p.getServerErrorMessage() != null;
            return new ConflictException(
                    named ? ((PSQLException) e).getServerErrorMessage().getConstraint() : "unique", e);
        }
        return new StoreException(statement + ": SQLSTATE " + e.getSQLState(), e);
    }

    static boolean isWorthRetrying(StoreException e) {
        return e.getCause() instanceof SQLException sql
                && (SERIALIZATION_FAILURE.equals(sql.getSQLState()) || DEADLOCK.equals(sql.getSQLState()));
    }
}
