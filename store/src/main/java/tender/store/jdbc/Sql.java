package tender.store.jdbc;

import java.sql.SQLException;
import java.util.Set;
import org.postgresql.util.PSQLException;

/** What a SQLSTATE means, decided here alone. */
final class Sql {
    private static final String UNIQUE_VIOLATION = "23505";
    private static final String SERIALIZATION_FAILURE = "40001";
    private static final String DEADLOCK = "40P01";

    /** Names that a transaction picks because they are free; the next attempt sees that somebody else was quicker. */
    private static final Set<String> RACES = Set.of("file_stem_pkey");

    private Sql() {}

    static StoreException translate(String statement, SQLException e) {
        if (UNIQUE_VIOLATION.equals(e.getSQLState())) {
            return new ConflictException(constraint(e), e);
        }
        return new StoreException(statement + ": SQLSTATE " + e.getSQLState(), e);
    }

    /** A batch says it in the exception behind its own. */
    private static String constraint(SQLException e) {
        for (SQLException one = e; one != null; one = one.getNextException()) {
            if (one instanceof PSQLException p && p.getServerErrorMessage() != null) {
                return p.getServerErrorMessage().getConstraint();
            }
        }
        return "unique";
    }

    static boolean isWorthRetrying(StoreException e) {
        if (e instanceof ConflictException c) {
            return RACES.contains(c.constraint());
        }
        return e.getCause() instanceof SQLException sql
                && (SERIALIZATION_FAILURE.equals(sql.getSQLState()) || DEADLOCK.equals(sql.getSQLState()));
    }
}
