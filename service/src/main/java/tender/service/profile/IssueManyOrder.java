package tender.service.profile;

import java.time.Instant;
import java.util.Optional;

/**
 * Profiles for every device of a team that has none at a listener yet.
 *
 * @param listener empty where the gateway has one alone
 * @param team empty: everyone
 * @param ends of access; empty: as the listener's rules say
 * @param makeAccounts whether Tender makes accounts at the gateway where the listener asks for some
 */
public record IssueManyOrder(
        String gateway,
        Optional<String> listener,
        Optional<String> team,
        Optional<Instant> ends,
        boolean makeAccounts) {}
