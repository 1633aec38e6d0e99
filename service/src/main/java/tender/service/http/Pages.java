package tender.service.http;

import io.javalin.http.Context;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.function.UnaryOperator;

/** Sends the console's files out of the jar; nothing else can be named. */
public final class Pages {
    private static final Map<String, String> TYPES = Map.of(
            "html",
            "text/html; charset=utf-8",
            "js",
            "text/javascript; charset=utf-8",
            "css",
            "text/css; charset=utf-8",
            "svg",
            "image/svg+xml",
            "woff2",
            "font/woff2",
            "png",
            "image/png");

    private Pages() {}

    /** Sends a file of the console; 404 where there is none. */
    public static void send(Context context, String path) {
        send(context, path, UnaryOperator.identity());
    }

    /** Sends a page of the console with what it is told to have filled in; 404 where there is none. */
    public static void send(Context context, String path, UnaryOperator<String> filled) {
        String ending = path.substring(path.lastIndexOf('.') + 1);
        if (!path.matches("/(assets/)?[A-Za-z0-9_-]+(\\.[A-Za-z0-9_-]+)*\\.[a-z0-9]+") || !TYPES.containsKey(ending)) {
            throw ApiFailure.notFound("page");
        }
        try (InputStream in = Pages.class.getResourceAsStream("/web" + path)) {
            if (in == null) {
                throw ApiFailure.notFound("page");
            }
            boolean hashed = path.startsWith("/assets/");
            context.header("Cache-Control", hashed ? "public, max-age=31536000, immutable" : "no-cache");
            context.contentType(TYPES.get(ending));
            if (ending.equals("html")) {
                context.result(filled.apply(new String(in.readAllBytes(), StandardCharsets.UTF_8)));
            } else {
                context.result(in.readAllBytes());
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
