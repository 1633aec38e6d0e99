package tender.service.http;

import tender.api.ProblemCode;

/** A call that ends in a problem answer. The detail is shown; it never holds a secret or a rejected value. */
public final class ApiFailure extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final ProblemCode code;
    private final String place;
    private final int retrySeconds;

    public ApiFailure(ProblemCode code, String detail) {
        this(code, detail, "");
    }

    public ApiFailure(ProblemCode code, String detail, String place) {
        this(code, detail, place, 0);
    }

    private ApiFailure(ProblemCode code, String detail, String place, int retrySeconds) {
        super(detail, null, false, true);
        this.code = code;
        this.place = place;
        this.retrySeconds = retrySeconds;
    }

    /** One that goes away by itself; the answer says after how long. */
    public static ApiFailure retry(ProblemCode code, String detail, int seconds) {
        return new ApiFailure(code, detail, "", seconds);
    }

    /** Seconds to wait before the same call has a chance; 0 where waiting does not help. */
    int retrySeconds() {
        return retrySeconds;
    }

    /** There is no such thing. */
    public static ApiFailure notFound(String what) {
        return new ApiFailure(ProblemCode.NOT_FOUND, "there is no such " + what);
    }

    public ProblemCode code() {
        return code;
    }

    /** The field or header that is to blame; empty where no single one is. */
    public String place() {
        return place;
    }
}
