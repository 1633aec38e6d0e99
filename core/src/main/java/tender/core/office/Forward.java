package tender.core.office;

import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.wire.Fields;

/** A port forward: connections to an outside port are passed on to a port of an inside host. */
public record Forward(Transport transport, Port port, IpAddress to, Port toPort, String label) {
    public Forward {
        Fields.given("transport", transport);
        Fields.given("port", port);
        Fields.given("to", to);
        Fields.given("toPort", toPort);
        label = FilterRule.label(label);
    }

    public boolean takes(Protocol.PortSpec asked) {
        return transport == asked.transport() && port.equals(asked.port());
    }

    /** In words: {@code udp 1194 to 10.20.2.5 port 1194}. */
    public String words() {
        return transport.word() + " " + port + " to " + to + " port " + toPort;
    }
}
