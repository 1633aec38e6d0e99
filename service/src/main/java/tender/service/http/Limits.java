package tender.service.http;

import java.time.Duration;

/** What bounds the web tier; the documents say the same. */
final class Limits {
    /** Body of a call that anyone may make. */
    static final int SMALL_BODY = 16 * 1024;
    /** Body of a call to the staff's page. */
    static final int STAFF_BODY = 4 * 1024;
    /** Body of a call that comes with a valid sign-in. */
    static final int LARGE_BODY = 6 * 1024 * 1024;
    /** Up to which size a body that is refused is still let run out. */
    static final long DISCARDED = 4L * LARGE_BODY;
    /** How long a small body may take to come in, and a large one. */
    static final Duration SMALL_TIME = Duration.ofSeconds(10);

    static final Duration LARGE_TIME = Duration.ofSeconds(60);
    /** Large bodies that come in at once: on this node, and of one sign-in. */
    static final int LARGE_AT_ONCE = 4;

    static final int LARGE_PER_SIGN_IN = 2;
    /** Connections of one source at once. */
    static final int CONNECTIONS_PER_SOURCE = 512;

    private Limits() {}

    static String words() {
        return "Limits: a body without a valid sign-in " + SMALL_BODY / 1024 + " KiB within " + SMALL_TIME.toSeconds()
                + " seconds, with one " + LARGE_BODY / 1024 / 1024 + " MiB within " + LARGE_TIME.toSeconds()
                + " seconds, "
                + LARGE_AT_ONCE + " such at once and " + LARGE_PER_SIGN_IN + " of one sign-in; "
                + CONNECTIONS_PER_SOURCE
                + " connections of one address. Passwords are checked " + Costly.AT_ONCE
                + " at once. Whoever is told 503 or 429"
                + " finds in Retry-After when to come back. Every refusal is a problem document (RFC 9457).";
    }
}
