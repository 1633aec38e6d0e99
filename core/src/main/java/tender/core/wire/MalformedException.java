package tender.core.wire;

import java.util.Objects;

/**
 * Bad input: a stable code, the place ({@code peers[2].endpoint}, {@code line 7}, {@code offset 34}) and what is wrong
 * there. Never carries the rejected value, which may be a secret.
 */
public final class MalformedException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final String code;
    private final String place;
    private final String what;

    public MalformedException(String code, String place, String what) {
        super((place.isEmpty() ? "" : place + ": ") + what, null, false, true);
        this.code = Objects.requireNonNull(code);
        this.place = place;
        this.what = what;
    }

    /** The same fault, told as seen from an enclosing field or line. */
    public MalformedException at(String outer) {
        return new MalformedException(code, place.isEmpty() ? outer : outer + "." + place, what);
    }

    public String code() {
        return code;
    }

    public String place() {
        return place;
    }

    public String what() {
        return what;
    }
}
