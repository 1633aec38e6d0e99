package tender.core.certificate;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;

/** How long certificates and lists last where nobody says otherwise. */
public final class Lifetimes {
    /** A person's certificate. */
    public static final Duration CLIENT = Duration.ofDays(365);

    /** A listener's certificate from an authority of ours. */
    public static final Duration LISTENER = Duration.ofDays(365);

    /** A listener's certificate from the device's own authority: a year and a month, the most that public ones last. */
    public static final Duration RENEWED_LISTENER = Duration.ofDays(397);

    /** A list of revoked certificates; it is signed anew at half of it. */
    public static final Duration REVOCATION_LIST = Duration.ofDays(30);

    private Lifetimes() {}

    /** The end, on a whole day (UTC), of what begins now. */
    public static Instant day(Instant now, Duration life) {
        return now.plus(life).truncatedTo(ChronoUnit.DAYS);
    }
}
