package tender.core.credential;

/** What has become of a credential. */
public enum CredentialState {
    CREATED,
    IN_USE,
    EXPIRING,
    EXPIRED,
    REVOKED
}
