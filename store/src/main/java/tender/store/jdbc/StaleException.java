package tender.store.jdbc;

/** A guarded write found another number of rows than it must: the record changed or went meanwhile. */
public final class StaleException extends StoreException {
    private static final long serialVersionUID = 1L;

    StaleException(int wanted, int found) {
        super("expected to change " + wanted + " rows, changed " + found, null);
    }
}
