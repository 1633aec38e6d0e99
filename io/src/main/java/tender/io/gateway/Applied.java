package tender.io.gateway;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.network.IpAddress;

/**
 * What came of a plan. What is not among the failures is written and, where the gateway shows it, in force.
 *
 * @param peers the listeners whose peers were written, or were refused by the device
 * @param failures why a part could not be carried out; a {@link GatewayFailure} or a {@link
 *     tender.core.wire.MalformedException}
 */
public record Applied(List<Peers> peers, Map<GatewayPlan.Part, RuntimeException> failures) {
    /**
     * The peers of one listener.
     *
     * @param refusal why the device did not take them; what was active before is active again then
     * @param taken tunnel addresses that the listener's file gives to anybody
     */
    public record Peers(String listener, Optional<String> refusal, List<IpAddress> taken) {}

    /** Throws the failure of a part, if it failed. */
    public void orThrow(GatewayPlan.Part part) {
        if (failures.containsKey(part)) {
            throw failures.get(part);
        }
    }
}
