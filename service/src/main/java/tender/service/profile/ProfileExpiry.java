package tender.service.profile;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Custody;
import tender.core.office.HandWork;
import tender.service.gateway.GatewayJobs;
import tender.service.job.JobKind;
import tender.service.refusal.Refused;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Listeners;
import tender.store.profile.Instructions;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.DesiredResources.Presence;

/** At the end of a profile's credentials its peer leaves the gateway; the profile stays and can be renewed. */
final class ProfileExpiry implements JobKind {
    private static final String NAME = "credential-end";

    private final Db db;
    private final Clock clock;
    private final ByHand byHand;

    ProfileExpiry(Db db, Clock clock, ByHand byHand) {
        this.byHand = byHand;
        this.db = db;
        this.clock = clock;
    }

    /**
     * Access ends then; what it rests on leaves the gateway at that time.
     *
     * @param until empty: access has no end
     * @throws Refused where that has passed
     */
    static void set(Tx tx, UUID profileId, Optional<Instant> until, Instant now) {
        if (until.filter(end -> !end.isAfter(now)).isPresent()) {
            throw new Refused(Refused.Kind.MALFORMED, "the end lies in the past", "until");
        }
        Credentials.expiresAt(tx, profileId, until);
        until.ifPresent(end -> order(tx, profileId, now, end));
    }

    static void order(Tx tx, UUID profileId, Instant now, Instant until) {
        Jobs.add(tx, Jobs.Order.once(NAME, profileId.toString(), "profile:" + profileId), Duration.between(now, until));
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        UUID profileId = UUID.fromString(job.payload());
        Instant now = clock.instant();
        db.run(tx -> {
            Optional<Profiles.Profile> p = Profiles.byId(tx, profileId).filter(q -> q.state() == ProfileState.READY);
            if (p.isEmpty() || !Credentials.expire(tx, profileId, now)) {
                return; // withdrawn, or renewed meanwhile
            }
            Listeners.Listener listener =
                    Listeners.byId(tx, p.get().listenerId()).orElseThrow();
            ends(tx, p.get(), listener, now);
            Events.say(tx, "profile", profileId);
            Journal.append(tx, By.tender(now), "credential-expired", "profile", profileId, "");
        });
    }

    /**
     * A peer or an account of Tender's own leaves the gateway; of another account somebody is asked. A certificate expires by
     * itself, and so does the account beside it.
     */
    private void ends(Tx tx, Profiles.Profile p, Listeners.Listener listener, Instant now) {
        UUID gateway = listener.gatewayId();
        switch (p.identity().kind()) {
            case TUNNEL_KEY_PAIR -> {
                if (byHand.peers(tx, gateway)) {
                    Instructions.put(
                            tx, p.id(), HandWork.CLOSE_PEER, p.identity().value(), now);
                } else {
                    DesiredResources.peer(tx, gateway, listener.id(), p.id(), Presence.SUSPENDED);
                    GatewayJobs.reconcile(tx, gateway);
                }
            }
            case PASSWORD -> {
                if (p.custody() == Custody.HELD && byHand.accountsAreWritten(tx, gateway)) {
                    DesiredResources.account(tx, gateway, p.id(), Presence.SUSPENDED);
                    GatewayJobs.reconcile(tx, gateway);
                } else {
                    Instructions.put(
                            tx, p.id(), HandWork.CLOSE_ACCOUNT, p.identity().value(), now);
                }
            }
            default -> {
                // its gateway reads the end in the certificate
            }
        }
    }
}
