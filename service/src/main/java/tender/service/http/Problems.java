package tender.service.http;

import io.javalin.http.Context;
import io.javalin.http.HttpResponseException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.api.Problem;
import tender.api.ProblemCode;
import tender.core.wire.MalformedException;
import tender.io.gateway.GatewayFailure;
import tender.service.refusal.Refused;
import tender.store.jdbc.ConflictException;
import tender.store.jdbc.StaleException;
import tender.store.jdbc.StoreException;

/** The one place where an exception becomes an answer. */
public final class Problems {
    private static final Logger LOG = LoggerFactory.getLogger(Problems.class);

    private Problems() {}

    /** Never throws: Javalin calls it again with whatever it throws, for ever. */
    public static void answer(Exception e, Context context) {
        if (gone(context)) {
            LOG.debug("a request ended after its peer was gone: {}", e.toString());
            return;
        }
        int retry = e instanceof ApiFailure f ? f.retrySeconds() : e instanceof Refused r ? r.retrySeconds() : 0;
        if (retry > 0) {
            context.header("Retry-After", Integer.toString(retry));
        }
        write(problem(e, context.method() + " " + context.path()), context);
    }

    /** The web server has taken the request back; a stream of events learns that its reader left only by writing. */
    private static boolean gone(Context context) {
        try {
            context.statusCode();
            context.path();
            return false;
        } catch (IllegalStateException | NullPointerException takenBack) {
            return true;
        }
    }

    /** For paths and verbs that no route has. */
    public static void nothingHere(Context context) {
        String type = context.res().getContentType();
        boolean told = type != null && type.startsWith("application/problem+json");
        if (!told
                && (context.path().startsWith("/api/")
                        || !context.method().name().equals("GET"))) {
            write(Problem.of(ProblemCode.NOT_FOUND, "there is nothing at this path", ""), context);
        }
    }

    static void write(Problem problem, Context context) {
        context.status(problem.status()).contentType("application/problem+json").result(Json.write(problem));
    }

    /** The same for any place that has to put a failure into words. */
    public static Problem problem(Exception e, String where) {
        if (e instanceof ApiFailure f) {
            return Problem.of(f.code(), f.getMessage(), f.place());
        }
        if (e instanceof Refused r) {
            return Problem.of(code(r.kind()), r.getMessage(), r.field());
        }
        if (e instanceof MalformedException m) {
            return Problem.of(
                    ProblemCode.MALFORMED,
                    (m.place().isEmpty() ? "the request" : m.place()) + " " + m.what(),
                    m.place());
        }
        if (e instanceof GatewayFailure g) {
            return Problem.of(code(g), g.getMessage(), "");
        }
        if (e instanceof ConflictException c) {
            return Problem.of(
                    ProblemCode.CONFLICT,
                    "there is one already ("
                            + c.constraint().replaceAll("_key$|_pkey$", "").replace('_', ' ') + ")",
                    "");
        }
        if (e instanceof StaleException) {
            return Problem.of(ProblemCode.STALE, "the version that was read is no longer the newest", "If-Match");
        }
        if (e instanceof HttpResponseException h) {
            return Problem.of(
                    h.getStatus() == 413
                            ? ProblemCode.TOO_LARGE
                            : h.getStatus() == 404 ? ProblemCode.NOT_FOUND : ProblemCode.MALFORMED,
                    h.getStatus() == 404 ? "there is nothing at this path" : "the request cannot be read",
                    "");
        }
        if (e instanceof StoreException) {
            LOG.warn("{}: {}", where, e.toString()); // while the database is away every call ends here
        } else {
            LOG.error("{}: {}", where, e.toString(), e);
        }
        return Problem.of(
                e instanceof StoreException ? ProblemCode.UNAVAILABLE : ProblemCode.FAILED,
                e instanceof StoreException ? "the database does not answer as it should" : "a fault in Tender",
                "");
    }

    private static ProblemCode code(Refused.Kind kind) {
        return switch (kind) {
            case NOT_FOUND -> ProblemCode.NOT_FOUND;
            case CONFLICT -> ProblemCode.CONFLICT;
            case MALFORMED -> ProblemCode.MALFORMED;
            case KEY_NOT_HELD -> ProblemCode.KEY_NOT_HELD;
            case IDENTITY_NOT_ACCEPTED -> ProblemCode.IDENTITY_NOT_ACCEPTED;
            case GATEWAY_UNREACHABLE -> ProblemCode.GATEWAY_UNREACHABLE;
            case UNFIT -> ProblemCode.UNFIT;
            case NOT_ALLOWED -> ProblemCode.NOT_ALLOWED;
            case WRONG_SIGN_IN -> ProblemCode.WRONG_SIGN_IN;
            case CODE_NEEDED -> ProblemCode.CODE_NEEDED;
            case LINK_OPENS_NOTHING -> ProblemCode.LINK_OPENS_NOTHING;
            case TOO_MANY -> ProblemCode.TOO_MANY;
            case BUSY -> ProblemCode.BUSY;
            case UNAVAILABLE -> ProblemCode.UNAVAILABLE;
        };
    }

    private static ProblemCode code(GatewayFailure failure) {
        return switch (failure.kind()) {
            case UNREACHABLE -> ProblemCode.GATEWAY_UNREACHABLE;
            case IDENTITY_CHANGED -> ProblemCode.GATEWAY_IDENTITY_CHANGED;
            case FORBIDDEN_ADDRESS, BAD_KEY -> ProblemCode.MALFORMED;
            default -> ProblemCode.GATEWAY_REFUSED;
        };
    }
}
