package tender.service.trial;

import java.util.UUID;

/** Comes back when what the records want at a gateway is active there. */
@FunctionalInterface
public interface Delivery {
    void now(UUID gatewayId);
}
