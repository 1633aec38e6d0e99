package tender.api;

import java.util.List;
import java.util.Optional;
import tender.core.office.Change;

/** Route walks, explanations and the network sheet. */
public final class WalkApi {
    /**
     * @param profile the label of the profile on the device
     * @param place hotel, home, carrier or office
     * @param lan the network the device is in there
     * @param to an inside host's address
     * @param port such as {@code tcp 445}
     */
    public record Question(
            String profile,
            String place,
            Optional<String> lan,
            Optional<Boolean> onlyWeb,
            Optional<String> site,
            String to,
            Optional<String> port) {}

    /** {@code verdict} is passes, fails or unknown. */
    public record Hop(
            String hop,
            String verdict,
            String place,
            String decidedBy,
            String detail,
            Optional<String> remedy,
            Optional<String> remedyGateway,
            Optional<Change> remedyChange) {}

    public record Path(List<Hop> hops, boolean passes, Optional<String> failsAt, Optional<String> remedy) {}

    public record Setting(
            String setting, String does, String costs, String safe, boolean clientsDepend, String restart) {}

    public record PortSpec(String kind, String reachedBy, String notes) {}

    /** Needs to choose by; see {@code /explain/needs}. */
    public record Choose(List<String> needs) {}

    public record Need(String need, String words) {}

    public record Choice(
            String protocol, String title, List<String> speaksFor, List<String> speaksAgainst, boolean weak) {}

    /** Best first. */
    public record Chosen(List<Choice> items) {}

    /** A network, with a pool {@code FIRST-LAST} and reserved addresses where there are any. */
    public record Network(String network, Optional<String> pool, Optional<List<String>> reserved) {}

    public record NetworkWords(
            String network,
            Optional<String> mask,
            String firstUsable,
            String lastUsable,
            Optional<String> broadcast,
            String usable,
            String leased,
            int reserved,
            String rest,
            List<String> notes) {}

    /** The network sheet: sites with their networks and gateways, tunnels, and which of them overlap. */
    public record Sheet(List<SheetSite> sites, List<SheetLink> links, List<SheetOverlap> overlaps) {}

    public record SheetSite(
            String name, String title, String domain, List<SheetNetwork> networks, List<SheetGateway> gateways) {}

    public record SheetNetwork(String name, String network) {}

    public record SheetGateway(
            String id,
            String name,
            String kind,
            String uplink,
            int findings,
            boolean breaks,
            List<SheetListener> listeners) {}

    public record SheetListener(String name, String protocol, String port, List<String> tunnels, int profiles) {}

    /** {@code kind} is behind or joined. */
    public record SheetLink(String from, String to, String kind) {}

    public record SheetOverlap(String one, String other, String words) {}

    /** A VPN client's or server's log, or a part of it. */
    public record ExplainLog(String text) {}

    /**
     * What a line of a log means.
     *
     * @param rung of a trial's ladder at which it went wrong
     * @param certainty certain, likely or possible
     * @param said the line
     */
    public record LogMeaning(
            String rung, String code, String certainty, String what, String remedy, int line, String said) {
        /** The same in the form of the API. */
        public static LogMeaning of(tender.core.trial.LogLine.Read r) {
            return new LogMeaning(
                    r.meaning().rung().label(),
                    r.meaning().cause().code(),
                    r.meaning().cause().certainty().name().toLowerCase(java.util.Locale.ROOT),
                    r.meaning().cause().what(),
                    r.meaning().cause().remedy(),
                    r.number(),
                    r.line().replaceAll("\\p{Cntrl}", " "));
        }
    }

    /** @param meanings none where no line says what went wrong */
    public record LogExplained(List<LogMeaning> meanings) {}

    private WalkApi() {}
}
