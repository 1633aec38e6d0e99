package tender.service.http;

import tender.api.ProblemCode;

/** A call that ends in a problem answer. The detail is shown; it never holds a secret or a rejected value. */
public final class ApiFailure extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final ProblemCode code;
    private final String place;

    public ApiFailure(ProblemCode code, String detail) {
        this(code, detail, "");
    }

    public ApiFailure(ProblemCode code, String detail, String place) {
        super(detail, null, false, true);
        this.code = code;
        this.place = place;
    }

    /** There is no such thing. */
    public static ApiFailure notFound(String what) {
        return new ApiFailure(ProblemCode.NOT_FOUND, "there is no such " + what);
    }

    public ProblemCode code() {
        return code;
    }

    public String place() {
        return place;
    }
}
