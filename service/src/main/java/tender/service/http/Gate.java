package tender.service.http;

import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import io.javalin.http.HandlerType;
import io.javalin.http.sse.SseClient;
import io.javalin.router.Endpoint;
import java.net.URI;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.function.Supplier;
import tender.api.OperatorApi;
import tender.api.Problem;
import tender.api.ProblemCode;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.handout.LinkToken;
import tender.store.jdbc.Db;
import tender.store.operator.Replays;
import tender.store.operator.SignIns;

/**
 * Every call passes here: who is it, may that role do this, does a browser's write come from our own page, was this very
 * call made before. Routes come from the table alone.
 */
public final class Gate {
    public static final String PREFIX = "/api/v1";
    /** How long another call with the same key is taken to be still running. */
    private static final Duration RUNNING = Duration.ofSeconds(60);

    private static final Set<String> BEFORE_PASSWORD_CHANGE = Set.of("/me", "/me/password", "/sign-out");

    private final Db db;
    private final Replays replays;
    private final Clock clock;
    private final Source source;
    private final Supplier<URI> baseUrl;

    public Gate(Db db, Replays replays, Clock clock, Source source, Supplier<URI> baseUrl) {
        this.db = db;
        this.replays = replays;
        this.clock = clock;
        this.source = source;
        this.baseUrl = baseUrl;
    }

    public void register(RoutesConfig config, List<Route> routes) {
        for (Route route : routes) {
            config.addEndpoint(
                    Endpoint.create(route.verb(), PREFIX + route.path()).handler(context -> serve(route, context)));
        }
        config.exception(Exception.class, Problems::answer);
        config.error(404, context -> {
            if (context.path().startsWith("/api/") && context.resultInputStream() == null) {
                Problems.write(Problem.of(ProblemCode.NOT_FOUND, "there is nothing at this path", ""), context);
            }
        });
    }

    /** A stream of events for those who may read; closed by the given consumer's bookkeeping. */
    public void stream(RoutesConfig config, String path, BiConsumer<SseClient, Caller> opened) {
        config.sse(PREFIX + path, client -> {
            Caller caller = caller(client.ctx(), clock.instant())
                    .filter(c -> Role.READERS.contains(c.role()) && !c.mustChangePassword())
                    .orElse(null);
            if (caller == null) {
                client.close();
            } else {
                opened.accept(client, caller);
            }
        });
    }

    private void serve(Route route, Context context) {
        Instant now = clock.instant();
        Optional<Caller> caller = route.roles().isEmpty() ? Optional.empty() : caller(context, now);
        if (!route.roles().isEmpty()) {
            check(route, caller);
        }
        if (route.verb() != HandlerType.GET) {
            checkOrigin(context, route.roles().isEmpty() || caller.get().browser());
        }
        Call call = new Call(context, caller.orElse(null), now, source.of(context));
        String key = context.header("Idempotency-Key");
        if (key != null && route.verb() == HandlerType.POST && caller.isPresent()) {
            replayed(route, call, context, key);
        } else {
            render(route.handler().handle(call), context);
        }
    }

    private static void check(Route route, Optional<Caller> caller) {
        Caller who = caller.orElseThrow(
                () -> new ApiFailure(ProblemCode.NOT_SIGNED_IN, "no valid sign-in came with the call"));
        if (!route.roles().contains(who.role())) {
            throw new ApiFailure(
                    ProblemCode.NOT_ALLOWED, "the role " + who.role().word() + " may not do this");
        }
        if (who.mustChangePassword() && !BEFORE_PASSWORD_CHANGE.contains(route.path())) {
            throw new ApiFailure(ProblemCode.PASSWORD_CHANGE_NEEDED, "the first password is still in use");
        }
    }

    /** A browser sends Origin with every write; ours is the only one that may. */
    private void checkOrigin(Context context, boolean browser) {
        String origin = context.header("Origin");
        if (browser && origin != null && !origin.equals(origin(baseUrl.get()))) {
            throw new ApiFailure(ProblemCode.NOT_ALLOWED, "the call comes from another page");
        }
        boolean cookieWithoutOrigin = browser && origin == null && context.cookie(cookieName()) != null;
        if (cookieWithoutOrigin) {
            throw new ApiFailure(ProblemCode.NOT_ALLOWED, "the call does not say which page it comes from");
        }
    }

    static String origin(URI url) {
        return url.getScheme() + "://" + url.getAuthority();
    }

    /** {@code __Host-} needs a secure channel; plain loopback has none. */
    public String cookieName() {
        return isHttps() ? "__Host-tender" : "tender";
    }

    public boolean isHttps() {
        return "https".equals(baseUrl.get().getScheme());
    }

    private Optional<Caller> caller(Context context, Instant now) {
        String header = context.header("Authorization");
        boolean bearer = header != null && header.startsWith(OperatorApi.TOKEN_SCHEME);
        String token = bearer ? header.substring(OperatorApi.TOKEN_SCHEME.length()) : context.cookie(cookieName());
        if (token == null || token.length() > 100) {
            return Optional.empty();
        }
        return db.inTransaction(tx -> SignIns.find(tx, LinkToken.digest(token), now))
                .filter(s -> bearer == s.kind().equals("client"))
                .map(s -> new Caller(
                        s.operatorId(),
                        s.operator(),
                        Role.of(s.role()),
                        s.mustChange(),
                        s.id(),
                        s.kind().equals("browser"),
                        s.freshUntil(),
                        s.personId()));
    }

    private void replayed(Route route, Call call, Context context, String key) {
        if (!key.matches("[A-Za-z0-9-]{8,64}")) {
            throw new ApiFailure(
                    ProblemCode.MALFORMED, "Idempotency-Key is 8 to 64 letters, digits or hyphens", "Idempotency-Key");
        }
        String digest = digest(context);
        var operator = call.caller().operatorId();
        boolean first = db.inTransaction(tx -> replays.claim(tx, operator, key, digest, call.now()));
        if (!first) {
            Replays.Replay earlier =
                    db.inTransaction(tx -> replays.find(tx, operator, key)).orElseThrow();
            if (!earlier.requestDigest().equals(digest)) {
                throw new ApiFailure(ProblemCode.CONFLICT, "the key was used for another request", "Idempotency-Key");
            }
            if (earlier.answer().isPresent()) {
                context.status(earlier.status().orElse(200))
                        .contentType("application/json")
                        .result(earlier.answer().get().reveal(RevealSecret.TO_HAND_OUT));
                return;
            }
            if (earlier.createdAt().plus(RUNNING).isAfter(call.now())) {
                throw new ApiFailure(ProblemCode.CONFLICT, "the same call is still running", "Idempotency-Key");
            }
        }
        try {
            Answer answer = route.handler().handle(call);
            if (answer instanceof Answer.Value value) {
                byte[] body = value.value() == null ? new byte[0] : Json.write(value.value());
                db.run(tx -> replays.answer(tx, operator, key, value.status(), Secret.of(body)));
            }
            render(answer, context);
        } catch (RuntimeException e) {
            db.run(tx -> replays.forget(tx, operator, key));
            throw e;
        }
    }

    private static String digest(Context context) {
        try {
            MessageDigest sha = MessageDigest.getInstance("SHA-256");
            sha.update(
                    (context.method() + " " + context.path() + "\n").getBytes(java.nio.charset.StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(sha.digest(context.bodyAsBytes()));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }

    private static void render(Answer answer, Context context) {
        if (answer instanceof Answer.File file) {
            context.contentType(file.contentType())
                    .header("Content-Disposition", "attachment; filename=\"" + file.name() + "\"")
                    .result(file.content());
            return;
        }
        Answer.Value value = (Answer.Value) answer;
        context.status(value.status());
        value.version().ifPresent(v -> context.header("ETag", "\"" + v + "\""));
        if (value.value() != null) {
            context.contentType("application/json").result(Json.write(value.value()));
        }
    }
}
