package tender.core.handout;

import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.inspect.Hint;
import tender.core.inspect.Inspection;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.IpAddress;

/** Whether a file is fit to be handed out: the one place that decides it, for every way out of the house. */
public final class Fitness {
    /** One reason, with the very values. */
    public record Reason(Unfit unfit, String detail) {}

    /** How a profile stands in the records. */
    public enum Standing {
        READY,
        NOT_WRITTEN,
        FAILED,
        WITHDRAWN
    }

    /**
     * What is known of a profile and of the revision that is to be handed out.
     *
     * @param expires when its credential does
     * @param listenerGone whether the gateway has the listener no more
     * @param differences what the listener has changed since the revision was made, in words
     * @param lastTrialFailed what the newest trial of this revision said, where it failed
     * @param calls what the file calls, in order
     * @param outside private networks that count as seen from outside
     * @param names where names lead, as far as they were looked up
     * @param content the revision looked into
     * @param decided whether somebody decided that dangerous lines may stay
     * @param revoked serials in the file that are revoked
     */
    public record Facts(
            Standing standing,
            String problem,
            Optional<Instant> expires,
            int revision,
            int newestRevision,
            boolean listenerGone,
            List<String> differences,
            Optional<String> lastTrialFailed,
            List<Endpoint> calls,
            List<Cidr> outside,
            Map<HostName, List<IpAddress>> names,
            List<Inspection> content,
            boolean decided,
            List<String> revoked) {}

    private static final Map<Hint, Unfit> FROM_CONTENT = new EnumMap<>(Map.of(
            Hint.ENDPOINT_PLACEHOLDER, Unfit.ENDPOINT_PLACEHOLDER,
            Hint.ENDPOINT_WRONG, Unfit.ENDPOINT_WRONG,
            Hint.CERTIFICATE_REVOKED, Unfit.CERTIFICATE_REVOKED,
            Hint.ENDPOINT_MISSING, Unfit.ENDPOINT_MISSING,
            Hint.PART_ELSEWHERE, Unfit.PART_MISSING,
            Hint.CERTIFICATE_EXPIRED, Unfit.CERTIFICATE_INVALID,
            Hint.CERTIFICATE_NOT_YET, Unfit.CERTIFICATE_INVALID));

    private Fitness() {}

    /** All reasons against it; none means that it is fit. */
    public static List<Reason> reasons(Facts f, Instant now) {
        List<Reason> out = new ArrayList<>();
        switch (f.standing()) {
            case WITHDRAWN -> add(out, Unfit.PROFILE_WITHDRAWN, f.problem());
            case FAILED -> add(out, Unfit.PROFILE_FAILED, f.problem());
            case NOT_WRITTEN -> add(out, Unfit.PROFILE_NOT_WRITTEN, f.problem());
            case READY -> {
                // nothing against it
            }
        }
        f.expires()
                .filter(end -> !end.isAfter(now))
                .ifPresent(end -> add(out, Unfit.PROFILE_EXPIRED, "expired " + end));
        if (f.revision() != f.newestRevision()) {
            add(out, Unfit.REVISION_NOT_NEWEST, "revision " + f.revision() + ", the newest is " + f.newestRevision());
        }
        if (f.listenerGone()) {
            add(out, Unfit.LISTENER_GONE, "");
        } else if (!f.differences().isEmpty()) {
            add(out, Unfit.LISTENER_CHANGED, String.join("; ", f.differences()));
        }
        f.lastTrialFailed().ifPresent(why -> add(out, Unfit.LAST_TRIAL_FAILED, why));
        endpoints(f, out);
        content(f, out);
        if (!f.revoked().isEmpty()) {
            add(out, Unfit.CERTIFICATE_REVOKED, String.join(", ", f.revoked()));
        }
        return out;
    }

    private static void endpoints(Facts f, List<Reason> out) {
        if (f.calls().isEmpty()) {
            add(out, Unfit.ENDPOINT_MISSING, "");
        }
        for (Endpoint e : f.calls()) {
            if (e.isPlaceholder()) {
                add(out, Unfit.ENDPOINT_PLACEHOLDER, e.toString());
            } else if (e.isPrivate() && !isOutside(f, e)) {
                add(out, Unfit.ENDPOINT_PRIVATE, e.toString());
            } else if (e.host() instanceof HostName name
                    && f.names().containsKey(name)
                    && f.names().get(name).isEmpty()) {
                add(out, Unfit.ENDPOINT_UNRESOLVED, name.toString());
            }
        }
    }

    private static boolean isOutside(Facts f, Endpoint e) {
        return e.host() instanceof Host.Literal literal
                && f.outside().stream().anyMatch(n -> n.contains(literal.address()));
    }

    private static void content(Facts f, List<Reason> out) {
        for (Inspection inspection : f.content()) {
            for (Inspection.Note note : inspection.allNotes()) {
                String where = note.line() > 0 ? "line " + note.line() : "";
                if (note.hint().isHeldBack() && !f.decided()) {
                    add(out, Unfit.DANGEROUS_UNDECIDED, where);
                }
                Unfit unfit = FROM_CONTENT.get(note.hint());
                if (unfit != null) {
                    add(out, unfit, where);
                }
            }
        }
    }

    /** One reason stands once, with the first place where it was seen. */
    private static void add(List<Reason> out, Unfit unfit, String detail) {
        if (out.stream().noneMatch(r -> r.unfit() == unfit)) {
            out.add(new Reason(unfit, detail));
        }
    }
}
