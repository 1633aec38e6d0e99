package tender.io.gateway;

import java.time.Instant;
import java.util.Set;
import tender.core.backup.Snapshot;
import tender.core.office.Device;

/**
 * Gateways that people manage by hand: what is known of them comes from client files and from what people enter; what Tender wants
 * there becomes an instruction. Nothing is ever asked of the device.
 */
public final class ManualConnector implements Connector {
    private static final String IDENTITY = "managed-by-hand";

    @Override
    public String identity(Target target) {
        return IDENTITY;
    }

    @Override
    public ManagementConnection open(Target target) {
        return new ByHand();
    }

    @Override
    public void close() {
        // holds nothing open
    }

    private static final class ByHand extends ReadOnlyConnection {
        private ByHand() {
            super("this gateway is managed by hand; change it there, and enter here what changed");
        }

        @Override
        public Set<Capability> capabilities() {
            return Set.of();
        }

        @Override
        public Snapshot readAll() {
            throw cannot();
        }

        @Override
        public Device device(Snapshot configuration, Instant now) {
            throw cannot();
        }
    }
}
