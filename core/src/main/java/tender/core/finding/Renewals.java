package tender.core.finding;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Listener;

/** The renewal of what a listener shows or believes, as findings propose it. */
final class Renewals {
    private static final Duration CERTIFICATE_LIFE = Duration.ofDays(397);
    private static final Duration REVOCATION_LIFE = Duration.ofDays(30);

    private Renewals() {}

    /** A certificate for a year and a month, with a sound key and the names it has and these. */
    static Change certificate(Listener l, Instant now, String... wanted) {
        List<String> names = new ArrayList<>(List.of(wanted));
        l.words(Attribute.SERVER_NAMES).stream().filter(n -> !names.contains(n)).forEach(names::add);
        return new Change.RenewCertificate(
                l.name(), names, Change.RenewCertificate.SOUND_KEY_BITS, day(now.plus(CERTIFICATE_LIFE)));
    }

    static Change revocations(Listener l, Instant now) {
        return new Change.RenewRevocations(l.name(), day(now.plus(REVOCATION_LIFE)));
    }

    private static Instant day(Instant at) {
        return at.truncatedTo(ChronoUnit.DAYS);
    }
}
