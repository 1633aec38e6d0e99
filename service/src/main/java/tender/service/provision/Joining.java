package tender.service.provision;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.wire.MalformedException;
import tender.service.profile.KeptProfiles;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.ConflictException;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Listeners;
import tender.store.person.People;
import tender.store.profile.ListenerProfiles;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.provision.Enrolments;
import tender.store.provision.Provisions;

/** Completes a device that joins: adds it where nobody has yet, and issues the profiles that its provisioning file is for. */
final class Joining {
    private static final Logger LOG = LoggerFactory.getLogger(Joining.class);

    private final Db db;
    private final KeptProfiles profiles;

    Joining(Db db, KeptProfiles profiles) {
        this.db = db;
        this.profiles = profiles;
    }

    /**
     * @param lacking listeners at which it has no profile yet
     * @param closing whether a profile that it had before is still being closed at one of them
     */
    private record Found(UUID deviceId, List<Listeners.Listener> lacking, boolean closing) {}

    /** Done again where a node ended in the middle: what is there already is left as it is. */
    void complete(Enrolments.Joining j, By by) {
        try {
            Found found = db.inTransaction(tx -> found(tx, j));
            if (found.closing()) {
                return; // the profile that it had before is still being closed; looked at again soon
            }
            for (Listeners.Listener listener : found.lacking()) {
                profiles.issue(j.person(), j.deviceName(), listener, by);
            }
            db.run(tx -> {
                Enrolments.joined(tx, j.id(), found.deviceId());
                told(tx, j, "device-joined", j.deviceName(), by);
            });
        } catch (Refused | MalformedException | ConflictException e) {
            LOG.info("{}'s {} cannot join: {}", j.person(), j.deviceName(), e.getMessage());
            db.run(tx -> {
                Enrolments.failed(tx, j.id(), e.getMessage());
                told(tx, j, "device-not-joined", j.deviceName() + ": " + e.getMessage(), by);
            });
        }
    }

    private static void told(Tx tx, Enrolments.Joining j, String what, String words, By by) {
        Journal.append(tx, by, what, "person", j.personId(), words);
        Events.say(tx, "person", j.personId());
        Events.say(tx, "enrolment", j.id());
        Events.say(tx, DeviceRoutes.TOPIC, j.id());
    }

    private static Found found(Tx tx, Enrolments.Joining j) {
        UUID device = j.deviceId()
                .or(() -> People.device(tx, j.personId(), j.deviceName()).map(People.Device::id))
                .orElseGet(() -> add(tx, j));
        List<Listeners.Listener> lacking = new ArrayList<>();
        boolean closing = false;
        for (UUID id : j.provisionId().map(p -> Provisions.listeners(tx, p)).orElse(List.of())) {
            Optional<Profiles.Profile> present =
                    ListenerProfiles.present(tx, device, id).flatMap(label -> Profiles.byLabel(tx, label));
            closing |=
                    present.filter(p -> p.state() == ProfileState.WITHDRAWING).isPresent();
            if (present.isEmpty()) {
                Listeners.byId(tx, id).filter(l -> !l.gone()).ifPresent(lacking::add);
            }
        }
        return new Found(device, lacking, closing);
    }

    private static UUID add(Tx tx, Enrolments.Joining j) {
        UUID id = Ids.next();
        People.insert(tx, new People.Device(id, j.personId(), j.person(), j.deviceName(), "laptop", j.system(), 1));
        return id;
    }
}
