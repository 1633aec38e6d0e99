package tender.service.device;

import java.util.List;
import java.util.UUID;
import tender.core.device.DeviceDescription;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.ManagementConnection;
import tender.io.gateway.Recognition;

/** Finds out which descriptions fit a device; nothing is changed on it. */
public final class Recognising {
    private final DeviceDescriptions descriptions;
    private final Connections connections;

    Recognising(DeviceDescriptions descriptions, Connections connections) {
        this.descriptions = descriptions;
        this.connections = connections;
    }

    /**
     * Tries all that Tender knows: those that it ships, and the company's own that are approved.
     *
     * @throws GatewayFailure where the device does not answer, or is none that files can be read of
     */
    public List<Recognition> recognise(UUID gatewayId) {
        try (ManagementConnection session = connections.open(gatewayId)) {
            return session.recognise(descriptions.all());
        }
    }

    /**
     * Whether the files of a description are on a device, before it counts: none of its commands is run.
     *
     * @throws GatewayFailure where the device does not answer, or is none that files can be read of
     */
    Recognition check(UUID gatewayId, DeviceDescription description) {
        try (ManagementConnection session = connections.open(gatewayId)) {
            return session.recognise(List.of(description.filesAlone())).get(0);
        }
    }

    /** The failure with what the device looks like, where its description does not fit. */
    public GatewayFailure explained(GatewayFailure e, ManagementConnection session, String gateway, String described) {
        boolean mayBeWrong =
                e.kind() == GatewayFailure.Kind.UNREADABLE || e.kind() == GatewayFailure.Kind.COMMAND_FAILED;
        if (!mayBeWrong) {
            return e;
        }
        String proposed;
        try {
            proposed = Recognition.proposed(session.recognise(descriptions.all()));
        } catch (GatewayFailure again) {
            return e;
        }
        return proposed.isEmpty() || proposed.equals(described)
                ? e
                : new GatewayFailure(
                        e.kind(),
                        e.getMessage() + "; " + described + " does not describe it: it looks like " + proposed
                                + " (tender gateway set " + gateway + " --description " + proposed + ")",
                        e);
    }
}
