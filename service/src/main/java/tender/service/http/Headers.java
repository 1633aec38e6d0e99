package tender.service.http;

import io.javalin.http.Context;

/** Headers that every answer carries. */
public final class Headers {
    private static final String POLICY =
            "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; connect-src 'self'; "
                    + "font-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

    private Headers() {}

    /** The headers of every answer: what a page may load, and that it is not framed. */
    public static void put(Context context, boolean https) {
        context.header("Content-Security-Policy", POLICY);
        context.header("X-Content-Type-Options", "nosniff");
        context.header("Referrer-Policy", "no-referrer");
        context.header("Cross-Origin-Opener-Policy", "same-origin");
        context.header("Cache-Control", "no-store");
        if (https) {
            context.header("Strict-Transport-Security", "max-age=31536000");
        }
    }
}
