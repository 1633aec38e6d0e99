package tender.core.finding;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Rules over what Tender itself runs: monitors, and certificate authorities. */
public final class OwnChecks {
    private static final Duration AUTHORITY_NOTICE = Duration.ofDays(365);

    /** A listener that is tried on a schedule and is not proven now. */
    public record Failing(
            String listenerId,
            String gateway,
            String listener,
            Optional<Instant> since,
            Optional<String> rung,
            Optional<String> cause) {}

    /** An authority of ours and when it ends. */
    public record AuthorityLife(String id, String name, Instant ends) {}

    /**
     * A withdrawn profile that still gets in.
     *
     * @param what its account, or the listener whose file holds its key
     */
    public record StillIn(String profileId, String label, String gateway, String what) {}

    /** A listener whose revocation list lacks serials. */
    public record Incomplete(String gatewayId, String gateway, String listener, List<String> serials) {}

    private static final int SHOWN_SERIALS = 5;

    private OwnChecks() {}

    /** Findings of those that a gateway still lets in. */
    public static List<Finding> admitted(List<StillIn> still, List<Incomplete> lists) {
        List<Finding> out = new ArrayList<>();
        for (StillIn s : still) {
            out.add(new Finding(
                    Rule.WITHDRAWN_STILL_ACTIVE,
                    "profile",
                    s.profileId() + "/" + s.what(),
                    s.label(),
                    s.what() + " at " + s.gateway(),
                    "Whoever holds the file of " + s.label() + " still gets in at " + s.gateway(),
                    "tender gateway sync " + s.gateway(),
                    Optional.empty()));
        }
        for (Incomplete l : lists) {
            out.add(new Finding(
                    Rule.REVOCATION_LIST_INCOMPLETE,
                    "listener",
                    l.gatewayId() + "/" + l.listener(),
                    l.gateway() + " " + l.listener(),
                    l.serials().size() + " missing: "
                            + String.join(
                                    ", ",
                                    l.serials()
                                            .subList(
                                                    0,
                                                    Math.min(
                                                            SHOWN_SERIALS,
                                                            l.serials().size()))),
                    Rule.REVOCATION_LIST_INCOMPLETE.breaks(),
                    "tender gateway sync " + l.gateway(),
                    Optional.empty()));
        }
        return out;
    }

    public static List<Finding> of(List<Failing> failing, List<AuthorityLife> authorities, Instant now) {
        List<Finding> out = new ArrayList<>();
        for (Failing f : failing) {
            out.add(finding(
                    Rule.LISTENER_FAILS,
                    "listener",
                    f.listenerId(),
                    f.gateway() + " " + f.listener(),
                    f.since().map(s -> "since " + s).orElse("now")
                            + f.rung().map(r -> ", at " + r).orElse("")
                            + f.cause().map(c -> ": " + c).orElse("")));
        }
        for (AuthorityLife a : authorities) {
            if (a.ends().isBefore(now.plus(AUTHORITY_NOTICE))) {
                out.add(finding(
                        Rule.AUTHORITY_EXPIRES,
                        "authority",
                        a.id(),
                        a.name(),
                        a.ends().isBefore(now) ? "ended " + a.ends() : "ends " + a.ends()));
            }
        }
        return out;
    }

    private static Finding finding(Rule rule, String kind, String id, String subject, String evidence) {
        return new Finding(rule, kind, id, subject, evidence, rule.breaks(), rule.remedy(), Optional.empty());
    }
}
