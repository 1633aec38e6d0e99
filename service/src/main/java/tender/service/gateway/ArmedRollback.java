package tender.service.gateway;

import java.util.UUID;
import tender.io.gateway.Capability;
import tender.io.gateway.Session;
import tender.store.change.DeviceChanges;
import tender.store.jdbc.Db;

/**
 * A device that was told to roll a temporary change back by itself would also roll back whoever was withdrawn or admitted
 * meanwhile. So before anything else is written its own rollback is called off; Tender alone ends the change then.
 */
public final class ArmedRollback {
    private ArmedRollback() {}

    public static void callOff(Db db, Session session, UUID gatewayId) {
        var armed = db.inTransaction(tx -> DeviceChanges.armed(tx, gatewayId));
        if (armed.isEmpty() || !session.capabilities().contains(Capability.WAY_BACK)) {
            return;
        }
        session.disarm();
        db.run(tx -> armed.forEach(id -> DeviceChanges.unarmed(tx, id)));
    }
}
