package tender.service.provision;

import java.util.Collection;
import java.util.List;
import java.util.UUID;
import tender.store.event.Events;
import tender.store.jdbc.Tx;
import tender.store.provision.Enrolments;

/** Ends devices' keys: each is told when it asks next, removes its files, and has to join anew. */
public final class EndedDevices {
    private EndedDevices() {}

    /** Gives the enrolments that ended. */
    public static List<UUID> end(Tx tx, Collection<UUID> devices) {
        List<UUID> ended = Enrolments.end(tx, devices);
        ended.forEach(id -> {
            Events.say(tx, "enrolment", id);
            Events.say(tx, DeviceRoutes.TOPIC, id);
        });
        return ended;
    }
}
