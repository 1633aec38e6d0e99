package tender.store.jdbc;

/** The database failed; names the statement, never its arguments. */
public class StoreException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    public StoreException(String what, Throwable cause) {
        super(what, cause);
    }
}
