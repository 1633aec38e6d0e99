package tender.store.jdbc;

/** A unique constraint refused a write (SQLSTATE 23505); says which. */
public final class ConflictException extends StoreException {
    private static final long serialVersionUID = 1L;

    private final String constraint;

    ConflictException(String constraint, Throwable cause) {
        super("already there: " + constraint, cause);
        this.constraint = constraint;
    }

    /** Name of the constraint that refused the row; empty where the database does not say. */
    public String constraint() {
        return constraint;
    }
}
