package tender.service.http;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Function;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;
import tender.api.Problem;
import tender.api.ProblemCode;

/**
 * Takes bodies in before anything works on them, without issued a thread: small ones from anyone, large ones from whoever is
 * signed in, a few at once, each within a total time. A body that trickles therefore stops nobody else.
 */
final class Bodies extends Handler.Wrapper {
    private final int small;
    private final int large;
    private final Function<Request, Optional<String>> signIn;
    private final Map<String, Integer> bySignIn = new HashMap<>();
    private int inside;

    /** @param signIn which valid sign-in a call comes with; asked for large bodies only */
    Bodies(int small, int large, Function<Request, Optional<String>> signIn) {
        this.small = small;
        this.large = large;
        this.signIn = signIn;
    }

    @Override
    public boolean handle(Request request, Response response, Callback callback) throws Exception {
        boolean unknownLength = request.getLength() < 0;
        boolean none = request.getLength() == 0
                || unknownLength && !request.getHeaders().contains(HttpHeader.TRANSFER_ENCODING);
        if (none) {
            return super.handle(request, response, callback);
        }
        if (!unknownLength && request.getLength() <= small) {
            takeIn(request, response, callback, small, Limits.SMALL_TIME, () -> {});
            return true;
        }
        Optional<String> who = large > small ? signIn.apply(request) : Optional.empty();
        if (request.getLength() > (who.isPresent() ? large : small)) {
            tooLarge(request, response, callback);
        } else if (who.isEmpty()) {
            takeIn(request, response, callback, small, Limits.SMALL_TIME, () -> {});
        } else if (!enter(who.get())) {
            response.getHeaders().put(HttpHeader.RETRY_AFTER, "5");
            refuse(response, callback, ProblemCode.BUSY, "too many large bodies come in at once");
        } else {
            takeIn(request, response, callback, large, Limits.LARGE_TIME, () -> leave(who.get()));
        }
        return true;
    }

    private synchronized boolean enter(String who) {
        if (inside >= Limits.LARGE_AT_ONCE || bySignIn.getOrDefault(who, 0) >= Limits.LARGE_PER_SIGN_IN) {
            return false;
        }
        inside++;
        bySignIn.merge(who, 1, Integer::sum);
        return true;
    }

    private synchronized void leave(String who) {
        inside--;
        bySignIn.compute(who, (k, n) -> n == 1 ? null : n - 1);
    }

    private void takeIn(
            Request request, Response response, Callback callback, int most, Duration time, Runnable afterwards) {
        Callback done = Callback.from(callback, afterwards);
        CompletableFuture<byte[]> body = Content.Source.asByteArrayAsync(request, most);
        body.orTimeout(time.toMillis(), TimeUnit.MILLISECONDS)
                .whenCompleteAsync(
                        (bytes, error) -> {
                            if (error == null) {
                                pass(new Whole(request, bytes), response, done);
                            } else {
                                fail(request, response, done, error);
                            }
                        },
                        request.getComponents().getExecutor());
    }

    private void pass(Request request, Response response, Callback callback) {
        try {
            if (!super.handle(request, response, callback)) {
                refuse(response, callback, ProblemCode.NOT_FOUND, "there is nothing at this path");
            }
        } catch (Exception e) {
            callback.failed(e);
        }
    }

    private static void fail(Request request, Response response, Callback callback, Throwable thrown) {
        Throwable cause =
                thrown instanceof CompletionException && thrown.getCause() != null ? thrown.getCause() : thrown;
        if (cause instanceof TimeoutException) {
            request.fail(cause);
            refuse(response, callback, ProblemCode.BODY_TOO_SLOW, "the body does not come in fast enough");
        } else if (cause instanceof IllegalStateException) {
            refuse(response, callback, ProblemCode.TOO_LARGE, "the body is larger than is taken here");
        } else {
            callback.failed(cause);
        }
    }

    /** Lets what is on its way run out, so that the caller reads the answer instead of a broken connection. */
    private static void tooLarge(Request request, Response response, Callback callback) {
        CompletableFuture<Void> over = new CompletableFuture<>();
        if (request.getLength() > Limits.DISCARDED) {
            over.complete(null);
        } else {
            Content.Source.consumeAll(request, Callback.from(() -> over.complete(null), over::completeExceptionally));
        }
        over.orTimeout(Limits.SMALL_TIME.toMillis(), TimeUnit.MILLISECONDS)
                .whenComplete((nothing, error) ->
                        refuse(response, callback, ProblemCode.TOO_LARGE, "the body is larger than is taken here"));
    }

    private static void refuse(Response response, Callback callback, ProblemCode code, String detail) {
        response.getHeaders().put(HttpHeader.CONNECTION, "close");
        write(response, callback, Problem.of(code, detail, ""));
    }

    static void write(Response response, Callback callback, Problem problem) {
        response.setStatus(problem.status());
        response.getHeaders().put(HttpHeader.CONTENT_TYPE, "application/problem+json");
        Content.Sink.write(response, true, new String(Json.write(problem), StandardCharsets.UTF_8), callback);
    }

    /** A request whose body is in. */
    private static final class Whole extends Request.Wrapper {
        private final Content.Source body;
        private final long length;

        Whole(Request request, byte[] bytes) {
            super(request);
            this.body = Content.Source.from(ByteBuffer.wrap(bytes));
            this.length = bytes.length;
        }

        @Override
        public long getLength() {
            return length;
        }

        @Override
        public Content.Chunk read() {
            return body.read();
        }

        @Override
        public void demand(Runnable demandCallback) {
            body.demand(demandCallback);
        }

        @Override
        public void fail(Throwable failure) {
            body.fail(failure);
            super.fail(failure);
        }
    }
}
