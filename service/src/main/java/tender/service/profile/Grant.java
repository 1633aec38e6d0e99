package tender.service.profile;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.store.jdbc.Tx;
import tender.store.office.Listeners;
import tender.store.office.Sites;
import tender.store.profile.Grants;
import tender.store.profile.Profiles;

/**
 * What somebody gets at a listener: as everyone, or by the grant of their team. Issued and imported profiles follow the same.
 *
 * @param takesPushed whether the office's own routes count beside it: where nobody said a reach
 * @param life how long it lasts; empty as everyone's
 */
public record Grant(
        List<Cidr> reach, boolean fullTunnel, List<IpAddress> dns, boolean takesPushed, Optional<Duration> life) {
    /** The rules of one listener, read once. */
    public static final class Rules {
        private final Grant everyone;
        private final Map<String, Grants.Grant> teams;

        /** Reads the rules of a listener; they stay as they are for as long as this is kept. */
        public Rules(Tx tx, Sites.Site site, Listeners.Listener listener) {
            this.everyone = new Grant(
                    Planning.reach(false, Optional.empty(), site, listener), false, List.of(), true, Optional.empty());
            this.teams = Grants.of(tx, listener.id()).stream().collect(Collectors.toMap(Grants.Grant::team, v -> v));
        }

        /** What a team is granted; what everyone is where it has no rule, or there is no team. */
        public Grant of(Optional<String> team) {
            return team.map(teams::get).map(this::by).orElse(everyone);
        }

        private Grant by(Grants.Grant v) {
            return new Grant(
                    v.fullTunnel() ? Planning.everything() : v.reach().isEmpty() ? everyone.reach() : v.reach(),
                    v.fullTunnel(),
                    v.dns(),
                    !v.fullTunnel() && v.reach().isEmpty(),
                    v.validDays().map(Duration::ofDays));
        }
    }

    /** The networks that a team's grant names; empty where an imported file keeps its own. */
    public Optional<List<Cidr>> ownReach() {
        return takesPushed ? Optional.empty() : Optional.of(reach);
    }

    /** The end of what begins now, where nobody said another. */
    Optional<Instant> until(Optional<Instant> said, Instant now) {
        return said.or(() -> life.map(now::plus));
    }

    boolean isIn(Profiles.Profile p) {
        return p.reach().equals(reach)
                && p.fullTunnel() == fullTunnel
                && p.dns().equals(dns)
                && p.takesPushed() == takesPushed;
    }
}
