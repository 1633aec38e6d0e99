package tender.service.job;

import java.time.Duration;

/** Thrown by a job that can do nothing now through no fault of its own: it is run again later, and this run counts as none. */
public final class NotNow extends RuntimeException {
    private static final long serialVersionUID = 1L;
    private final transient Duration after;

    public NotNow(String why, Duration after) {
        super(why);
        this.after = after;
    }

    /** How long to wait before the next try, which does not count as an attempt. */
    public Duration after() {
        return after;
    }
}
