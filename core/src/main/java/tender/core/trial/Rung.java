package tender.core.trial;

/** The steps of the ladder, in order. */
public enum Rung {
    NAME("name", "the endpoint's name leads to an address"),
    ADDRESS("address", "packets can be sent to that address"),
    PORT("port", "something is there on the port"),
    HANDSHAKE("handshake", "both sides accept each other's keys"),
    TUNNEL_ADDRESS("tunnel address", "the gateway answers inside the tunnel"),
    ECHO("inside host", "a host inside answers through the tunnel");

    private final String label;
    private final String meaning;

    Rung(String label, String meaning) {
        this.label = label;
        this.meaning = meaning;
    }

    public String label() {
        return label;
    }

    /** What it means when this rung holds. */
    public String meaning() {
        return meaning;
    }
}
