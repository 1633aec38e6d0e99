package tender.core.credential;

/** Who keeps the secret half: Tender, the device alone, or nobody any more. */
public enum Custody {
    HELD,
    DEVICE_ONLY,
    ERASED
}
