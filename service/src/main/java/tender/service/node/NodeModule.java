package tender.service.node;

import java.time.Instant;
import java.util.List;
import tender.service.http.Route;
import tender.service.job.JobKind;
import tender.store.jdbc.Tx;

/** What one word of the domain brings to a node. All modules are made before the first is started. */
public interface NodeModule {
    default List<Route> routes() {
        return List.of();
    }

    /** Work that this node can do. */
    default List<JobKind> jobs() {
        return List.of();
    }

    /** Puts recurring work in place, in a transaction of its own; done again at each start. */
    default void ensure(Tx tx, Instant now) {}

    /** Clears what has had its time; about every ten minutes, on one of the nodes. */
    default void upkeep(Tx tx, Instant now) {}

    /** Begins what runs by itself. */
    default void start() {}

    /** Something was said on a topic, on any node; returns at once. */
    default void heard(String topic, String id) {}

    /** No new requests: ends what waits, before the web listener stops. */
    default void drain() {}

    /** Ends what runs by itself, after the last request. */
    default void close() {}

    /** One that has routes and nothing else. */
    static NodeModule of(List<Route> routes) {
        return new NodeModule() {
            @Override
            public List<Route> routes() {
                return routes;
            }
        };
    }
}
