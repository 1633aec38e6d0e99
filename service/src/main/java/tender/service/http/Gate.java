package tender.service.http;

import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import io.javalin.http.HandlerType;
import io.javalin.http.sse.SseClient;
import io.javalin.router.Endpoint;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.CompletionException;
import java.util.function.BiConsumer;
import java.util.function.Supplier;
import org.eclipse.jetty.http.HttpCookie;
import org.eclipse.jetty.server.Request;
import tender.api.OperatorApi;
import tender.api.ProblemCode;
import tender.core.credential.KeyedDigest;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.handout.LinkToken;
import tender.store.jdbc.Db;
import tender.store.jdbc.StoreException;
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

    /** The attribute of a request that holds its route as the table writes it. */
    public static final String ROUTE = "tender.route";

    private static final String STREAMING = "tender.streaming";
    private static final Set<String> BEFORE_PASSWORD_CHANGE = Set.of("/me", "/me/password", "/sign-out");
    private static final Set<String> BEFORE_ENROLMENT =
            Set.of("/me", "/me/password", "/me/code", "/me/code/confirm", "/me/fresh", "/sign-out");

    private final Db db;
    private final Replays replays;
    private final Clock clock;
    private final Source source;
    private final Supplier<URI> baseUrl;
    private final Secret digestKey;

    /** @param digestKey keys the digests of requests, so that nobody who reads the database can guess what was in them */
    public Gate(Db db, Replays replays, Clock clock, Source source, Supplier<URI> baseUrl, Secret digestKey) {
        this.digestKey = digestKey;
        this.db = db;
        this.replays = replays;
        this.clock = clock;
        this.source = source;
        this.baseUrl = baseUrl;
    }

    /** Serves the routes: each behind its roles, limits and bounds. */
    public void register(RoutesConfig config, List<Route> routes) {
        for (Route route : routes) {
            config.addEndpoint(
                    Endpoint.create(route.verb(), PREFIX + route.path()).handler(context -> {
                        context.attribute(ROUTE, route.path());
                        serve(route, context);
                    }));
        }
        config.exception(Exception.class, Problems::answer);
        for (int status : List.of(404, 405)) {
            config.error(status, Problems::nothingHere);
        }
    }

    /** A stream of events for those who may read; refused like any other call where the row of the table says so. */
    public void stream(RoutesConfig config, Route route, BiConsumer<SseClient, Caller> opened) {
        config.before(PREFIX + route.path(), context -> {
            Caller caller = check(route, caller(context, clock.instant()));
            context.attribute(STREAMING, caller);
        });
        config.sse(PREFIX + route.path(), client -> {
            Caller caller = client.ctx().attribute(STREAMING);
            opened.accept(client, caller);
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
        if (route.fresh()) {
            call.needFresh();
        }
        String key = context.header("Idempotency-Key");
        if (key != null && route.verb() == HandlerType.POST && caller.isPresent()) {
            replayed(route, call, context, key);
        } else {
            render(route.handler().handle(call), context);
        }
    }

    private static Caller check(Route route, Optional<Caller> caller) {
        Caller who = caller.orElseThrow(
                () -> new ApiFailure(ProblemCode.NOT_SIGNED_IN, "no valid sign-in came with the call"));
        if (!route.roles().contains(who.role())) {
            throw new ApiFailure(
                    ProblemCode.NOT_ALLOWED, "the role " + who.role().word() + " may not do this");
        }
        if (who.mustChangePassword() && !BEFORE_PASSWORD_CHANGE.contains(route.path())) {
            throw new ApiFailure(ProblemCode.PASSWORD_CHANGE_NEEDED, "the first password is still in use");
        }
        if (who.enrolOnly() && !BEFORE_ENROLMENT.contains(route.path())) {
            throw new ApiFailure(ProblemCode.ENROL_NEEDED, "this installation asks everyone for a one-time code");
        }
        return who;
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

    /** Whether browsers reach this node by HTTPS, so that cookies are sent there alone. */
    public boolean isHttps() {
        return "https".equals(baseUrl.get().getScheme());
    }

    /** Which valid sign-in a request comes with, asked before its body is read. */
    Optional<String> signInOf(Request request) {
        String cookie = Request.getCookies(request).stream()
                .filter(c -> c.getName().equals(cookieName()))
                .map(HttpCookie::getValue)
                .findFirst()
                .orElse(null);
        try {
            return signIn(request.getHeaders().get("Authorization"), cookie, clock.instant())
                    .map(s -> s.id().toString());
        } catch (StoreException e) {
            return Optional.empty(); // the route says that the database is away
        }
    }

    private Optional<SignIns.SignIn> signIn(String header, String cookie, Instant now) {
        boolean bearer = header != null && header.startsWith(OperatorApi.TOKEN_SCHEME);
        String token = bearer ? header.substring(OperatorApi.TOKEN_SCHEME.length()) : cookie;
        if (token == null || token.length() > 100) {
            return Optional.empty();
        }
        return db.inTransaction(tx -> SignIns.find(tx, LinkToken.digest(token), now))
                .filter(s -> bearer == s.kind().equals("client"));
    }

    private Optional<Caller> caller(Context context, Instant now) {
        return signIn(context.header("Authorization"), context.cookie(cookieName()), now)
                .map(s -> new Caller(
                        s.operatorId(),
                        s.operator(),
                        s.readOnly() ? Role.of(s.role()).reading() : Role.of(s.role()),
                        s.mustChange(),
                        s.enrolOnly(),
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
            checkSame(route, earlier, digest, call.now());
            if (earlier.answer().isPresent()) {
                context.status(earlier.status().orElse(200))
                        .contentType("application/json")
                        .result(earlier.answer().get().reveal(RevealSecret.TO_HAND_OUT));
                return;
            }
        }
        handled(route, call, context, key);
    }

    /** Refuses a key of another request, of one that still runs, and an answer that is shown once. */
    private static void checkSame(Route route, Replays.Replay earlier, String digest, Instant now) {
        if (!earlier.requestDigest().equals(digest)) {
            throw new ApiFailure(ProblemCode.CONFLICT, "the key was used for another request", "Idempotency-Key");
        }
        if (earlier.answer().isPresent()
                && route.answer().filter(Json::holdsSecret).isPresent()) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    "it was done, and what is shown once was shown; make it anew where it is lost",
                    "Idempotency-Key");
        }
        if (earlier.answer().isEmpty() && earlier.createdAt().plus(RUNNING).isAfter(now)) {
            throw new ApiFailure(ProblemCode.CONFLICT, "the same call is still running", "Idempotency-Key");
        }
    }

    /** Handles the call and keeps its answer under the key; where it fails, the key may be used again. */
    private void handled(Route route, Call call, Context context, String key) {
        var operator = call.caller().operatorId();
        try {
            Answer answer = route.handler().handle(call);
            if (answer instanceof Answer.Later later) {
                render(
                        new Answer.Later(later.answer().whenComplete((come, failure) -> {
                            if (failure == null) {
                                keep(route, operator, key, come);
                            } else {
                                db.run(tx -> replays.forget(tx, operator, key));
                            }
                        })),
                        context);
                return;
            }
            keep(route, operator, key, answer);
            render(answer, context);
        } catch (RuntimeException e) {
            db.run(tx -> replays.forget(tx, operator, key));
            throw e;
        }
    }

    /** Keeps an answer for the same call made again; never one that shows a secret. */
    private void keep(Route route, UUID operator, String key, Answer answer) {
        if (answer instanceof Answer.Value value) {
            boolean secret = route.answer().filter(Json::holdsSecret).isPresent();
            byte[] body = value.value() == null || secret ? new byte[0] : Json.write(value.value());
            db.run(tx -> replays.answer(tx, operator, key, value.status(), Secret.of(body)));
        }
    }

    private String digest(Context context) {
        return KeyedDigest.of(
                digestKey,
                (context.method() + " " + context.path() + "\n").getBytes(StandardCharsets.UTF_8),
                context.bodyAsBytes());
    }

    private static void render(Answer answer, Context context) {
        if (answer instanceof Answer.Later later) {
            context.future(() -> later.answer().handle((come, failure) -> {
                if (failure == null) {
                    render(come, context);
                } else {
                    Throwable cause = failure instanceof CompletionException ? failure.getCause() : failure;
                    Problems.answer(cause instanceof Exception e ? e : new IllegalStateException(cause), context);
                }
                return null;
            }));
            return;
        }
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
