package tender.service.http;

import java.util.Optional;
import java.util.concurrent.CompletableFuture;

/** What a route gives back. */
public sealed interface Answer {
    /** A value written as JSON; a version becomes the ETag. */
    record Value(int status, Object value, Optional<Integer> version) implements Answer {}

    /** A file. */
    record File(String contentType, String name, byte[] content) implements Answer {}

    /** An answer that comes when something has happened; no thread waits for it. */
    record Later(CompletableFuture<? extends Answer> answer) implements Answer {}

    static Answer ok(Object value) {
        return new Value(200, value, Optional.empty());
    }

    static Answer ok(Object value, int version) {
        return new Value(200, value, Optional.of(version));
    }

    static Answer created(Object value) {
        return new Value(201, value, Optional.empty());
    }

    static Answer accepted(Object value) {
        return new Value(202, value, Optional.empty());
    }

    static Answer done() {
        return new Value(204, null, Optional.empty());
    }
}
