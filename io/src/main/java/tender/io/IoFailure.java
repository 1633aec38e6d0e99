package tender.io;

/** Something outside failed: what was done, to what, and why. */
public class IoFailure extends RuntimeException {
    private static final long serialVersionUID = 1L;

    public IoFailure(String what, Throwable cause) {
        super(what, cause);
    }
}
