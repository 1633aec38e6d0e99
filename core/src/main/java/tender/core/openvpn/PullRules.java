package tender.core.openvpn;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import tender.core.profile.OpenVpnFile;

/**
 * What a client takes of the options that a server pushes, by its own file: nothing where it does not pull, no routes and
 * name servers with {@code route-nopull}, and what its filters let through, of which the first that fits decides.
 *
 * @param pulls whether the file says {@code client} or {@code pull}
 * @param noRoutes whether it says {@code route-nopull}
 */
public record PullRules(boolean pulls, boolean noRoutes, List<PullRules.Filter> filters) {
    /** Takes all that is pushed. */
    public static final PullRules ALL = new PullRules(true, false, List.of());

    /** As OpenVPN 2.6 sorts its options; {@code route-gateway} and {@code route-delay} are taken all the same. */
    private static final Set<String> ROUTES_AND_NAMES = Set.of(
            "route",
            "route-ipv6",
            "route-metric",
            "redirect-gateway",
            "redirect-private",
            "block-ipv6",
            "client-nat",
            "dhcp-option",
            "dns",
            "block-outside-dns");

    /** What becomes of options that begin with a text. */
    public record Filter(String action, String text) {}

    public PullRules {
        filters = List.copyOf(filters);
    }

    public static PullRules of(OpenVpnFile file) {
        return new PullRules(
                file.has("client") || file.has("pull"),
                file.has("route-nopull"),
                file.all("pull-filter").stream()
                        .filter(d -> d.words().size() > 1)
                        .map(d -> new Filter(d.words().get(0), d.words().get(1)))
                        .toList());
    }

    private Optional<String> action(String option) {
        return filters.stream()
                .filter(f -> option.startsWith(f.text()))
                .findFirst()
                .map(Filter::action);
    }

    /** Whether an option is taken. */
    boolean takes(String option) {
        boolean refused = noRoutes && ROUTES_AND_NAMES.contains(option.split(" ")[0]);
        return pulls && !refused && action(option).filter("ignore"::equals).isEmpty();
    }

    /** Whether a client ends the connection over an option. */
    boolean rejects(String option) {
        return pulls && action(option).filter("reject"::equals).isPresent();
    }
}
