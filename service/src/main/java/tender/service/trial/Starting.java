package tender.service.trial;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Custody;
import tender.core.office.Protocol;
import tender.service.office.ListenerChoice;
import tender.service.profile.Canaries;
import tender.service.profile.ProfileFiles;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.Profiles;
import tender.store.trial.TrialDocuments;
import tender.store.trial.Trials;

/** Orders trials of profiles and of listeners, from here or from a standing vantage. */
final class Starting {
    private final Db db;
    private final Gateways gateways;
    private final Canaries canaries;
    private final Vantages vantages;

    Starting(Db db, Gateways gateways, Canaries canaries, Vantages vantages) {
        this.db = db;
        this.gateways = gateways;
        this.canaries = canaries;
        this.vantages = vantages;
    }

    /** What is tried: a profile, or a listener that is probed. */
    record Subject(Optional<UUID> profileId, Optional<UUID> listenerId, String kind, UUID id, String words) {}

    /**
     * The trial's id.
     *
     * @param asked what is to be measured; empty where nothing is
     * @param from the vantage's name
     * @throws Refused where that vantage takes no trials now
     */
    UUID start(Subject subject, Optional<TrialDocuments.Asked> asked, String from, By by) {
        boolean here = from.equals(Vantages.SERVICE);
        if (!here) {
            vantages.requireStanding(from, by.at());
        }
        UUID id = Ids.next();
        db.run(tx -> {
            Trials.insert(
                    tx,
                    new Trials.Order(
                            id,
                            subject.profileId(),
                            subject.listenerId(),
                            from,
                            here ? "service" : "standing",
                            subject.words(),
                            "",
                            asked),
                    by.at());
            Jobs.add(
                    tx,
                    Jobs.Order.once(
                                    here ? TrialJob.NAME : HandedTrial.NAME,
                                    id.toString(),
                                    "trial:" + (here ? subject.id() : id))
                            .attempts(3),
                    here ? Duration.ZERO : HandedTrial.PATIENCE);
            Events.say(tx, "trial", id);
            if (!here) {
                Events.say(tx, Trials.WAITING, from);
                beside(tx, subject, from, by.at());
            }
            Journal.append(tx, by, "trial-started", subject.kind(), subject.id(), "");
        });
        return id;
    }

    /** The same from the service at the same time, so that inside and outside can be told apart. */
    private static void beside(Tx tx, Subject subject, String from, Instant now) {
        UUID id = Ids.next();
        Trials.insert(
                tx,
                new Trials.Order(
                        id,
                        subject.profileId(),
                        subject.listenerId(),
                        Vantages.SERVICE,
                        "service",
                        subject.words() + ", beside " + from,
                        "",
                        Optional.empty()),
                now);
        Jobs.add(
                tx,
                Jobs.Order.once(TrialJob.NAME, id.toString(), "trial:" + subject.id())
                        .attempts(3));
    }

    /** @throws Refused where there is no such profile, or it cannot be tried as it stands */
    private static void checkTriable(Profiles.Profile profile) {
        if (!ProfileFiles.TRIABLE.contains(profile.state())) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    profile.label() + " is " + profile.state().word()
                            + profile.problem().map(p -> ": " + p).orElse(""));
        }
    }

    Subject ofProfile(String label) {
        Profiles.Profile profile =
                db.inTransaction(tx -> Profiles.byLabel(tx, label)).orElseThrow(() -> Refused.notFound("profile"));
        checkTriable(profile);
        Listeners.Listener listener =
                db.inTransaction(tx -> Listeners.byId(tx, profile.listenerId())).orElseThrow();
        if (isProbed(listener)) {
            return probed(listener);
        }
        if (profile.custody() != Custody.HELD && profile.custody() != Custody.IN_FILE) {
            throw new Refused(
                    Refused.Kind.KEY_NOT_HELD, label + "'s key was made on the device and never reached Tender");
        }
        return new Subject(
                Optional.of(profile.id()),
                Optional.empty(),
                "profile",
                profile.id(),
                label + " at " + profile.gateway());
    }

    /** @throws Refused where no one listener is meant, or it cannot be tried */
    Subject ofListener(String gateway, Optional<String> name, By by) {
        UUID gatewayId = db.inTransaction(tx -> gateways.byName(tx, gateway))
                .orElseThrow(() -> new Refused(Refused.Kind.NOT_FOUND, "there is no such gateway", "gateway"))
                .id();
        Listeners.Listener listener =
                ListenerChoice.of(gateway, db.inTransaction(tx -> Listeners.of(tx, List.of(gatewayId))), name);
        if (isProbed(listener)) {
            return probed(listener);
        }
        Profiles.Profile canary = canaries.of(listener.id(), by);
        return new Subject(
                Optional.of(canary.id()),
                Optional.empty(),
                "profile",
                canary.id(),
                listener.gateway() + " " + listener.name());
    }

    private static boolean isProbed(Listeners.Listener listener) {
        if (!TrialKinds.isTried(listener.protocol())) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    Protocol.parse(listener.protocol()).title() + " is not tried: it is broken, and should be off",
                    "listener");
        }
        return TrialKinds.isProbed(listener.protocol());
    }

    private static Subject probed(Listeners.Listener listener) {
        return new Subject(
                Optional.empty(),
                Optional.of(listener.id()),
                "listener",
                listener.id(),
                listener.gateway() + " " + listener.name());
    }
}
