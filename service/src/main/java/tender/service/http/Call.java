package tender.service.http;

import io.javalin.http.Context;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import tender.api.ProblemCode;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.store.journal.By;

/** One call: who, what path, which body. */
public final class Call {
    private final Context context;
    private final Caller caller;
    private final Instant now;
    private final String source;

    Call(Context context, Caller caller, Instant now, String source) {
        this.context = context;
        this.caller = caller;
        this.now = now;
        this.source = source;
    }

    /** The caller; only routes with roles have one. */
    public Caller caller() {
        if (caller == null) {
            throw new IllegalStateException("an open route has no caller");
        }
        return caller;
    }

    /** The time of the call; one call has one time. */
    public Instant now() {
        return now;
    }

    /** The caller and the time, for what the journal keeps. */
    public By by() {
        return new By(caller().reference(), now);
    }

    /** The caller's address, forwarded ones believed from the trusted proxy alone. */
    public String source() {
        return source;
    }

    /** @throws MalformedException where the path holds no id */
    public UUID id() {
        return uuid("id", context.pathParam("id"));
    }

    /** A named part of the path, as it was sent. */
    public String path(String name) {
        return plain(name, context.pathParam(name));
    }

    /** A text without control characters, which no record has and the database refuses. */
    static String plain(String field, String text) {
        if (text.chars().anyMatch(Character::isISOControl)) {
            throw new MalformedException("text", field, "has a control character in it");
        }
        return text;
    }

    static UUID uuid(String field, String text) {
        return id(text).orElseThrow(() -> new MalformedException("id", field, "is not an id"));
    }

    /** The text as an id; empty where it is none. */
    public static Optional<UUID> id(String text) {
        return text.matches("[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}")
                ? Optional.of(UUID.fromString(text))
                : Optional.empty();
    }

    /** What a list is searched for: the parameter {@code text}, where it says anything. */
    public Optional<String> text() {
        return query("text").filter(t -> !t.isBlank()).map(t -> Fields.title("text", t));
    }

    /** A query parameter; empty where it is missing or blank. */
    public Optional<String> query(String name) {
        return Optional.ofNullable(context.queryParam(name))
                .filter(text -> !text.isBlank())
                .map(text -> plain(name, text));
    }

    /** @throws MalformedException where it is no id */
    public Optional<UUID> queryId(String name) {
        return query(name).map(text -> uuid(name, text));
    }

    /**
     * The body, read strictly.
     *
     * @throws tender.core.wire.MalformedException naming the field that is unknown or of the wrong kind
     */
    public <T> T body(Class<T> type) {
        return Json.read(context.bodyAsBytes(), type);
    }

    /** A body that may be left out. */
    public <T> Optional<T> bodyIfAny(Class<T> type) {
        return context.bodyAsBytes().length == 0 ? Optional.empty() : Optional.of(body(type));
    }

    /** The version the caller read, from If-Match. */
    public int version() {
        String header = context.header("If-Match");
        if (header == null) {
            throw new ApiFailure(ProblemCode.VERSION_NEEDED, "If-Match is missing", "If-Match");
        }
        String digits = header.replace("\"", "");
        if (!digits.matches("[0-9]{1,9}")) {
            throw new MalformedException("version", "If-Match", "is not a version");
        }
        return Integer.parseInt(digits);
    }

    /** Refuses unless the caller signed in within the last minutes. */
    public void needFresh() {
        if (now.isAfter(caller().freshUntil())) {
            throw new ApiFailure(ProblemCode.NOT_FRESH, "the last sign-in is too long ago for this");
        }
    }

    /** For the sign-in routes, which set and clear the cookie. */
    public void cookie(String name, String value, boolean secure, int maxAgeSeconds) {
        context.header(
                "Set-Cookie",
                name + "=" + value + "; Path=/; HttpOnly; SameSite=Strict; Max-Age=" + maxAgeSeconds
                        + (secure ? "; Secure" : ""));
    }
}
