package tender.service.reconcile;

import java.util.UUID;
import tender.io.gateway.Capability;
import tender.io.gateway.ManagementConnection;
import tender.store.change.DeviceChanges;
import tender.store.jdbc.Db;

/**
 * A device that was told to roll a temporary change back by itself would also roll back whoever was withdrawn or admitted
 * meanwhile. So before anything else is written its own rollback is called off; Tender alone ends the change then.
 */
final class ArmedRollback {
    private ArmedRollback() {}

    static void callOff(Db db, ManagementConnection connection, UUID gatewayId) {
        var armed = db.inTransaction(tx -> DeviceChanges.armed(tx, gatewayId));
        if (armed.isEmpty() || !connection.capabilities().contains(Capability.ROLLBACK)) {
            return;
        }
        connection.disarm();
        db.run(tx -> armed.forEach(id -> DeviceChanges.unarmed(tx, id)));
    }
}
