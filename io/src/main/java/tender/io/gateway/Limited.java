package tender.io.gateway;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.ByteBuffer;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Flow;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;

/** HTTP calls bounded in time as a whole and in the size of the answer. */
final class Limited implements HttpResponse.BodySubscriber<byte[]> {
    private static final Duration WHOLE_CALL = Duration.ofSeconds(20);
    private static final int MAX_ANSWER_BYTES = 16 * 1024 * 1024;

    private final CompletableFuture<byte[]> whole = new CompletableFuture<>();
    private final ByteArrayOutputStream taken = new ByteArrayOutputStream();
    private Flow.Subscription subscription;

    static HttpResponse<byte[]> send(HttpClient client, HttpRequest request) {
        CompletableFuture<HttpResponse<byte[]>> call = client.sendAsync(request, info -> new Limited());
        try {
            return call.get(WHOLE_CALL.toMillis(), TimeUnit.MILLISECONDS);
        } catch (TimeoutException e) {
            call.cancel(true);
            throw new GatewayFailure(
                    GatewayFailure.Kind.UNREACHABLE, "no whole answer within " + WHOLE_CALL.toSeconds() + " s", e);
        } catch (ExecutionException e) {
            IOException cause = e.getCause() instanceof IOException io ? io : new IOException(e.getCause());
            throw new GatewayFailure(GatewayFailure.Kind.UNREACHABLE, "no answer", cause);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            call.cancel(true);
            throw new GatewayFailure(GatewayFailure.Kind.UNREACHABLE, "interrupted while waiting", e);
        }
    }

    @Override
    public CompletionStage<byte[]> getBody() {
        return whole;
    }

    @Override
    public void onSubscribe(Flow.Subscription fresh) {
        subscription = fresh;
        fresh.request(Long.MAX_VALUE);
    }

    @Override
    public void onNext(List<ByteBuffer> parts) {
        for (ByteBuffer part : parts) {
            if (taken.size() + part.remaining() > MAX_ANSWER_BYTES) {
                subscription.cancel();
                whole.completeExceptionally(new IOException("the answer is longer than is read"));
                return;
            }
            byte[] bytes = new byte[part.remaining()];
            part.get(bytes);
            taken.writeBytes(bytes);
        }
    }

    @Override
    public void onError(Throwable failure) {
        whole.completeExceptionally(failure);
    }

    @Override
    public void onComplete() {
        whole.complete(taken.toByteArray());
    }
}
