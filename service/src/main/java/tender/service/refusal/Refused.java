package tender.service.refusal;

/**
 * A use case does not do what was asked, and nothing of it is kept: it leaves the transaction that it is thrown in. The words
 * are shown to whoever asked; they never hold a secret or a rejected value.
 *
 * <p>What cannot be read is a {@link tender.core.wire.MalformedException}, what a gateway does not do a
 * {@link tender.io.gateway.GatewayFailure}.
 */
public final class Refused extends RuntimeException {
    private static final long serialVersionUID = 1L;

    /** Why, as far as callers can act on it. */
    public enum Kind {
        /** There is no such thing. */
        NOT_FOUND,
        /** It is there already, or its state does not allow this. */
        CONFLICT,
        /** What was asked contradicts itself, or is not possible at all. */
        MALFORMED,
        /** The key was made elsewhere and never reached Tender. */
        KEY_NOT_HELD,
        /** Nobody accepted the gateway's host key yet. */
        IDENTITY_NOT_ACCEPTED,
        GATEWAY_UNREACHABLE,
        /** The profile does not work as it stands, and nobody said to hand it out all the same. */
        UNFIT,
        /** Whoever asks may not do that. */
        NOT_ALLOWED,
        /** Name, password or code is wrong; it is not said which. */
        WRONG_SIGN_IN,
        CODE_NEEDED,
        LINK_OPENS_NOTHING,
        /** Too many wrong tries. */
        TOO_MANY,
        /** Too much is asked for at once. */
        BUSY,
        /** It cannot be done now; later it may. */
        UNAVAILABLE
    }

    private final Kind kind;
    private final String field;
    private final int retrySeconds;

    public Refused(Kind kind, String words) {
        this(kind, words, "");
    }

    /** @param field of what was asked, such as {@code listener}; empty where no single one is to blame */
    public Refused(Kind kind, String words, String field) {
        this(kind, words, field, 0);
    }

    private Refused(Kind kind, String words, String field, int retrySeconds) {
        super(words, null, false, true);
        this.kind = kind;
        this.field = field;
        this.retrySeconds = retrySeconds;
    }

    /** There is no such thing, such as {@code "profile"}. */
    public static Refused notFound(String thing) {
        return new Refused(Kind.NOT_FOUND, "there is no such " + thing);
    }

    /** One that goes away by itself after so many seconds. */
    public static Refused retry(Kind kind, String words, int seconds) {
        return new Refused(kind, words, "", seconds);
    }

    public Kind kind() {
        return kind;
    }

    /** What of that which was asked is to blame; empty where no single one is. */
    public String field() {
        return field;
    }

    /** Seconds to wait before the same has a chance; 0 where waiting does not help. */
    public int retrySeconds() {
        return retrySeconds;
    }
}
