package tender.store.provision;

import tender.store.jdbc.StoreException;

/** How a device stands that joined with a provisioning file. */
public enum EnrolmentState {
    /** It has called; the service has not made its profiles yet. */
    JOINING,
    JOINED,
    /** Its profiles could not be made. */
    FAILED,
    /** It left by itself. */
    LEFT,
    /** Somebody ended it here, or it joined anew. */
    ENDED;

    public static EnrolmentState of(String word) {
        for (EnrolmentState state : values()) {
            if (state.word().equals(word)) {
                return state;
            }
        }
        throw new StoreException("no state of an enrolment: " + word, null);
    }

    public String word() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
