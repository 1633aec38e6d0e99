package tender.service.profile;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import tender.api.ProfileApi;
import tender.core.credential.ClientIdentity;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;

/** A profile as answers show it, with how well it is known to work. */
public final class ProfileView {
    private static final Set<ProfileState> ENDED =
            Set.of(ProfileState.WITHDRAWING, ProfileState.CLOSING, ProfileState.WITHDRAWN);

    private ProfileView() {}

    public static ProfileApi.Profile render(Profiles.Profile p) {
        return render(p, List.of());
    }

    public static ProfileApi.Profile render(Profiles.Profile p, List<Revisions.Revision> revisions) {
        return new ProfileApi.Profile(
                p.id().toString(),
                p.label(),
                p.origin().word(),
                p.state().word(),
                p.problem(),
                p.person(),
                p.personName(),
                p.device(),
                p.gateway(),
                p.listener(),
                new ProfileApi.Identity(word(p.identity()), p.identity().value()),
                custody(p),
                texts(p.addresses()),
                texts(p.reach()),
                p.fullTunnel(),
                texts(p.dns()),
                p.revision(),
                proof(p),
                p.connected(),
                p.lastHeard(),
                p.handoutState(),
                p.handWork().map(w -> w.words(p.gateway(), p.handWorkOn().orElse(""))),
                revisions.stream().map(ProfileView::render).toList(),
                p.createdAt(),
                p.version());
    }

    private static String word(ClientIdentity identity) {
        return identity.match(key -> "key", certificate -> "certificate name", account -> "account");
    }

    private static String custody(Profiles.Profile p) {
        return p.custody().name().toLowerCase(java.util.Locale.ROOT).replace('_', ' ');
    }

    private static List<String> texts(List<?> values) {
        return values.stream().map(Object::toString).toList();
    }

    private static ProfileApi.Revision render(Revisions.Revision r) {
        return new ProfileApi.Revision(
                r.id().toString(), r.number(), r.digest(), r.fileName(), r.madeFor(), r.createdAt());
    }

    /**
     * Of the newest revision, the newest of: a trial that proved it, a session with traffic both ways; a failed trial after
     * both means failing. What an earlier revision showed is told, and is no proof of this one.
     */
    private static ProfileApi.Proof proof(Profiles.Profile p) {
        if (ENDED.contains(p.state())) {
            return new ProfileApi.Proof("unknown", Optional.empty(), ""); // that it is refused is no failure
        }
        Optional<Instant> seen = p.seenBothWays() ? p.lastHeard() : Optional.empty();
        Optional<Instant> failedAt = p.lastTrialWorks().filter(works -> !works).flatMap(x -> p.lastTrialAt());
        boolean failing = failedAt.isPresent()
                && seen.filter(s -> s.isAfter(failedAt.get())).isEmpty();
        if (failing) {
            return new ProfileApi.Proof("failing", failedAt, "a trial");
        }
        if (p.provenRevision().equals(Optional.of(p.revision()))) {
            return new ProfileApi.Proof(
                    "proven",
                    p.provenAt(),
                    "a trial by Tender with " + p.proofRestsOn().orElse(""));
        }
        return seen.isPresent()
                ? new ProfileApi.Proof("seen", seen, "a session with traffic both ways")
                : new ProfileApi.Proof(
                        "unknown",
                        Optional.empty(),
                        p.provenRevision()
                                .map(n -> "revision " + n + " was proven, revision " + p.revision() + " is not yet")
                                .orElse(""));
    }
}
