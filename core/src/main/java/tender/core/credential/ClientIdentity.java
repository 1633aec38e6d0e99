package tender.core.credential;

import java.util.function.Function;

/** By what a gateway knows a device that calls. */
public sealed interface ClientIdentity {
    /** A WireGuard public key, base64. */
    record Key(String value) implements ClientIdentity {
        @Override
        public <R> R match(
                Function<? super Key, ? extends R> key,
                Function<? super CertificateName, ? extends R> certificate,
                Function<? super Account, ? extends R> account) {
            return key.apply(this);
        }

        @Override
        public CredentialKind kind() {
            return CredentialKind.TUNNEL_KEY_PAIR;
        }
    }

    /** The name in a certificate. */
    record CertificateName(String value) implements ClientIdentity {
        @Override
        public <R> R match(
                Function<? super Key, ? extends R> key,
                Function<? super CertificateName, ? extends R> certificate,
                Function<? super Account, ? extends R> account) {
            return certificate.apply(this);
        }

        @Override
        public CredentialKind kind() {
            return CredentialKind.CERTIFICATE;
        }
    }

    /** An account of the gateway, by its name. */
    record Account(String value) implements ClientIdentity {
        @Override
        public <R> R match(
                Function<? super Key, ? extends R> key,
                Function<? super CertificateName, ? extends R> certificate,
                Function<? super Account, ? extends R> account) {
            return account.apply(this);
        }

        @Override
        public CredentialKind kind() {
            return CredentialKind.PASSWORD;
        }
    }

    /** The key or the name, as the gateway says it. */
    String value();

    /** What proves it. */
    CredentialKind kind();

    /** One case for each kind there is. */
    <R> R match(
            Function<? super Key, ? extends R> key,
            Function<? super CertificateName, ? extends R> certificate,
            Function<? super Account, ? extends R> account);

    /** Whether it is a name rather than a key. */
    default boolean isName() {
        return match(key -> false, certificate -> true, account -> true);
    }

    /**
     * What a credential proves.
     *
     * @throws IllegalArgumentException for a preshared key, which proves nobody
     */
    static ClientIdentity of(CredentialKind kind, String value) {
        return switch (kind) {
            case TUNNEL_KEY_PAIR -> new Key(value);
            case CERTIFICATE -> new CertificateName(value);
            case PASSWORD -> new Account(value);
            case PRESHARED_KEY -> throw new IllegalArgumentException("a preshared key is nobody's identity");
        };
    }
}
