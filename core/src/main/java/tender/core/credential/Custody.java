package tender.core.credential;

/** Who keeps the secret half. */
public enum Custody {
    /** Tender, which made or was given it. */
    HELD,
    /** Nobody but the device, or its user. */
    DEVICE_ONLY,
    /** It is the password of an account of the gateway's own, and stands in the file that the gateway made. */
    IN_FILE,
    /** Nobody any more. */
    ERASED
}
