package tender.core.credential;

/** What a credential is. */
public enum CredentialKind {
    TUNNEL_KEY_PAIR,
    PRESHARED_KEY,
    CERTIFICATE,
    PASSWORD
}
