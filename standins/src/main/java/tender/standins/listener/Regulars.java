package tender.standins.listener;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;

/** People who count as connected though no device calls: their traffic grows with time, as that of people at work does. */
public final class Regulars {
    private record Regular(
            String listener, String name, String endpoint, String address, Instant since, int bytesPerSecond) {}

    private final List<Regular> all = new CopyOnWriteArrayList<>();

    /** Somebody is connected from now on. */
    public void add(String listener, String name, String endpoint, String address, int bytesPerSecond) {
        all.add(new Regular(listener, name, endpoint, address, Instant.now(), bytesPerSecond));
    }

    public List<Connected> connected() {
        Instant now = Instant.now();
        return all.stream()
                .map(r -> {
                    long received = 4_000
                            + r.bytesPerSecond()
                                    * Duration.between(r.since(), now).toSeconds();
                    return new Connected(
                            r.listener(), r.name(), r.endpoint(), r.address(), received, 3 * received, r.since());
                })
                .toList();
    }
}
