package tender.service.trial;

import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.credential.Custody;
import tender.core.trial.Rung;
import tender.core.wire.MalformedException;
import tender.service.profile.ByHand;
import tender.service.profile.ProfileFiles;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.office.Listeners;
import tender.store.profile.Instructions;
import tender.store.profile.Profiles;
import tender.store.trial.Trials;

/**
 * Shows that a profile is refused: a trial with its very file is not let in, while in the same minute another one of the same listener
 * is. Silence alone shows nothing: the server may be down.
 */
public final class RefusalProof {
    /** A trial that failed after these asked the server to let it in, and was not. */
    private static final Set<Rung> REFUSES = Set.of(Rung.PORT, Rung.HANDSHAKE, Rung.AUTHENTICATION);

    private final Db db;
    private final ByHand byHand;
    private final ProfileFiles files;
    private final ListenerProof proof;
    private final CanaryTrials canaries;
    private final Delivery delivery;

    RefusalProof(
            Db db, ByHand byHand, ProfileFiles files, ListenerProof proof, CanaryTrials canaries, Delivery delivery) {
        this.byHand = byHand;
        this.files = files;
        this.db = db;
        this.proof = proof;
        this.canaries = canaries;
        this.delivery = delivery;
    }

    /**
     * What trials showed.
     *
     * @param triable whether there is a file that a trial can use
     * @param control what was let in meanwhile, where it was refused
     */
    public record Shown(boolean refused, boolean triable, Optional<String> control, String words) {
        private static Shown not(String words) {
            return new Shown(false, true, Optional.empty(), words);
        }

        private static Shown never(String words) {
            return new Shown(false, false, Optional.empty(), words);
        }
    }

    /**
     * Tries a withdrawn profile, and the listener's canary beside it; a colleague's profile where no canary can be let in.
     *
     * @param why kept with the trials
     */
    public Shown of(UUID profileId, UUID listenerId, String why) {
        Optional<String> cannot = untriable(profileId);
        if (cannot.isPresent()) {
            return Shown.never(cannot.get());
        }
        Listeners.Listener listener =
                db.inTransaction(tx -> Listeners.byId(tx, listenerId)).orElseThrow();
        Trials.Trial trial;
        try {
            trial = proof.ofProfile(profileId, why);
        } catch (Refused | MalformedException e) {
            return Shown.never("it cannot be tried: " + e.getMessage());
        }
        if (!isRefused(trial)) {
            return notRefused(trial);
        }
        boolean writes = !db.inTransaction(tx -> byHand.everything(tx, listener.gatewayId()));
        boolean canary = writes && canaries.prove(listenerId, why, delivery).orElse(false);
        return canary ? refused("the canary of " + listener.name()) : judged(trial, profileId, listener.name(), why);
    }

    /**
     * Why no trial can sign in with a profile's file; empty where one can. A server refuses whoever comes without the password, so
     * that such a trial shows nothing.
     */
    public Optional<String> untriable(UUID profileId) {
        Profiles.Profile p =
                db.inTransaction(tx -> Profiles.byId(tx, profileId)).orElseThrow(() -> Refused.notFound("profile"));
        Optional<Listeners.Listener> listener = db.inTransaction(tx -> Listeners.byId(tx, p.listenerId()));
        if (listener.isEmpty() || listener.get().gone()) {
            return Optional.of("its listener is gone");
        }
        if (TrialKinds.isProbed(listener.get().protocol())) {
            return Optional.of("no trial signs in at " + listener.get().name());
        }
        if (p.custody() == Custody.DEVICE_ONLY) {
            return Optional.of("its key or password never reached Tender");
        }
        try {
            return files.lacksPassword(profileId)
                    ? Optional.of("the password of its account is not here")
                    : Optional.empty();
        } catch (Refused e) {
            return Optional.of(e.getMessage());
        }
    }

    /** What a trial of a profile shows, with another profile of its listener tried beside it. */
    Shown judged(Trials.Trial trial, UUID profileId, String listener, String why) {
        if (!isRefused(trial)) {
            return notRefused(trial);
        }
        Optional<Profiles.Profile> other =
                db.inTransaction(tx -> Instructions.letIn(tx, profileId).flatMap(id -> Profiles.byId(tx, id)));
        if (other.isEmpty()) {
            return Shown.not("the last trial was not let in; no other profile of " + listener
                    + " is there to show that the server works");
        }
        return ListenerProof.isLetIn(
                        proof.ofProfile(other.get().id(), other.get().label() + why))
                ? refused(other.get().label())
                : Shown.not("the last trial was not let in, and " + other.get().label() + " was not either");
    }

    private static Shown refused(String control) {
        return new Shown(true, true, Optional.of(control), "refused, while " + control + " was let in");
    }

    private boolean isRefused(Trials.Trial trial) {
        return !ListenerProof.isLetIn(trial)
                && proof.failed(trial).filter(REFUSES::contains).isPresent();
    }

    private Shown notRefused(Trials.Trial trial) {
        return Shown.not(
                ListenerProof.isLetIn(trial)
                        ? "the last trial was still let in"
                        : "the last trial did not get as far as the server" + proof.at(trial));
    }
}
