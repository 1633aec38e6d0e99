package tender.service.profile;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import tender.core.office.HandWork;
import tender.service.gateway.GatewayJobs;
import tender.service.job.JobKind;
import tender.service.session.Watch;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Listeners;
import tender.store.profile.Instructions;
import tender.store.profile.Profiles;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.DesiredResources.Presence;

/** At the end of a profile's credentials its peer leaves the gateway; the profile stays and can be renewed. */
public final class Ending implements JobKind {
    private static final String NAME = "credential-end";

    private final Db db;
    private final Clock clock;
    private final ByHand byHand;

    public Ending(Db db, Clock clock, ByHand byHand) {
        this.byHand = byHand;
        this.db = db;
        this.clock = clock;
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
            Optional<Profiles.Profile> p =
                    Profiles.byId(tx, profileId).filter(q -> q.state().equals("ready"));
            if (p.isEmpty() || !Credentials.expire(tx, profileId, now)) {
                return; // withdrawn, or renewed meanwhile
            }
            Listeners.Listener listener =
                    Listeners.byId(tx, p.get().listenerId()).orElseThrow();
            if (p.get().publicKey().startsWith(Watch.BY_NAME)) {
                account(tx, p.get(), listener, now);
            } else if (byHand.peers(tx, listener.gatewayId())) {
                Instructions.put(tx, profileId, HandWork.CLOSE_PEER, p.get().publicKey(), now);
            } else {
                DesiredResources.peer(tx, listener.gatewayId(), listener.id(), profileId, Presence.SUSPENDED);
                GatewayJobs.reconcile(tx, listener.gatewayId());
            }
            Events.say(tx, "profile", profileId.toString());
            Journal.append(tx, now, "tender", "credential-ended", "profile", profileId.toString(), "");
        });
    }

    /** An account of Tender's own leaves the gateway; of another somebody is asked. A certificate expires by itself. */
    private static void account(Tx tx, Profiles.Profile p, Listeners.Listener listener, Instant now) {
        if (!Profiles.restsOnPassword(tx, p.id())) {
            return;
        }
        if (p.custody().equals("HELD")) {
            DesiredResources.account(tx, listener.gatewayId(), p.id(), Presence.SUSPENDED);
            GatewayJobs.reconcile(tx, listener.gatewayId());
        } else {
            Instructions.put(tx, p.id(), HandWork.CLOSE_ACCOUNT, p.publicKey().substring(Watch.BY_NAME.length()), now);
        }
    }
}
