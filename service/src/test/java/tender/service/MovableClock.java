package tender.service;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;

/** The time, moved on by a test. */
final class MovableClock extends Clock {
    private volatile Duration ahead = Duration.ZERO;

    void move(Duration by) {
        ahead = ahead.plus(by);
    }

    @Override
    public ZoneId getZone() {
        return ZoneOffset.UTC;
    }

    @Override
    public Clock withZone(ZoneId zone) {
        return this;
    }

    @Override
    public Instant instant() {
        return Instant.now().plus(ahead);
    }
}
