package tender.core.trial;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** The steps of the ladder, in order. */
public enum Rung {
    NAME("name", "the endpoint's name resolves to an address"),
    ADDRESS("address", "packets can be sent to that address"),
    PORT("port", "something is there on the port"),
    HANDSHAKE("handshake", "both sides accept each other's keys"),
    TRUST("trust", "the server is who it should be"),
    AUTHENTICATION("authentication", "the server lets this one in"),
    TUNNEL_ADDRESS("tunnel address", "the gateway answers inside the tunnel"),
    ECHO("inside host", "a host inside answers through the tunnel");

    /** Those of a protocol whose keys are all the trust there is. */
    public static final List<Rung> OF_KEYS = List.of(NAME, ADDRESS, PORT, HANDSHAKE, TUNNEL_ADDRESS, ECHO);

    private final String label;
    private final String meaning;

    Rung(String label, String meaning) {
        this.label = label;
        this.meaning = meaning;
    }

    public static Optional<Rung> ofLabel(String label) {
        return Arrays.stream(values()).filter(r -> r.label.equals(label)).findFirst();
    }

    public String label() {
        return label;
    }

    /** What it means when this rung holds. */
    public String meaning() {
        return meaning;
    }
}
