package tender.standins.firewall;

/** A call that the firewall answers with a status of its own and a word on why. */
final class ApiFault extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final int status;

    ApiFault(int status, String message) {
        super(message, null, false, false);
        this.status = status;
    }

    int status() {
        return status;
    }
}
