package tender.core.finding;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import tender.core.certificate.Lifetimes;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Listener;
import tender.core.office.ListenerChange;

/** The renewal of what a listener shows or believes, as findings propose it. */
final class Renewals {
    private Renewals() {}

    /** A certificate for a year and a month, with a sound key and the names it has and these. */
    static Change certificate(Listener l, Instant now, String... wanted) {
        List<String> names = new ArrayList<>(List.of(wanted));
        l.words(Attribute.SERVER_NAMES).stream().filter(n -> !names.contains(n)).forEach(names::add);
        return new ListenerChange.RenewCertificate(
                l.name(),
                names,
                ListenerChange.RenewCertificate.SOUND_KEY_BITS,
                Lifetimes.day(now, Lifetimes.RENEWED_LISTENER));
    }

    static Change revocations(Listener l, Instant now) {
        return new ListenerChange.RenewRevocations(l.name(), Lifetimes.day(now, Lifetimes.REVOCATION_LIST));
    }
}
