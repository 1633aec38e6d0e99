package tender.core.credential;

/** Where a credential is in its life. */
public enum Life {
    MADE,
    IN_USE,
    EXPIRING,
    EXPIRED,
    REVOKED
}
