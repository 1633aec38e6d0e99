package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.credential.Secret;

/** Certificate authorities, the certificates they sign, and their revocation. */
public final class CertificateApi {
    /**
     * A new authority.
     *
     * @param key ec-p256 (the default), rsa-2048, rsa-3072, rsa-4096 or ed25519
     * @param years of validity, 10 where missing
     * @param publishesAt the address under which strangers fetch its list, written into certificates
     */
    public record MakeAuthority(
            String name, Optional<String> key, Optional<Integer> years, Optional<String> publishesAt) {}

    /**
     * One that exists: its certificate and key in PEM, and the passphrase where one locks the key.
     *
     * @param revocationList its revocation list in PEM, so that whoever was revoked before stays refused
     * @param issued the index of issued certificates that openssl ca keeps
     */
    public record TakeAuthority(
            String name,
            String certificate,
            Secret key,
            Optional<Secret> passphrase,
            Optional<String> publishesAt,
            Optional<String> revocationList,
            Optional<String> issued) {}

    public record Authority(
            String id,
            String name,
            String certificate,
            String key,
            Instant expiresAt,
            Optional<String> publishesAt,
            int revoked,
            long listNumber,
            Instant listUntil,
            Instant createdAt) {}

    /**
     * How many days certificates and lists last where nobody says otherwise.
     *
     * @param renewedListenerDays of a listener's certificate from the device's own authority
     */
    public record Lifetimes(int clientDays, int listenerDays, int renewedListenerDays, int revocationListDays) {}

    /**
     * A certificate to sign. Either {@code request} is given, a request in PEM by a device that keeps its key, or Tender makes
     * the key and gives it once, in a key store locked by {@code passphrase}.
     *
     * @param purpose server or client
     * @param names DNS names and addresses, for a server's
     * @param days of validity; {@link Lifetimes#listenerDays()} where missing
     * @param legacy whether the key store is for systems from before about 2019
     */
    public record Sign(
            String purpose,
            String commonName,
            Optional<List<String>> names,
            Optional<Integer> days,
            Optional<String> key,
            Optional<String> request,
            Optional<Secret> passphrase,
            Optional<Boolean> legacy) {}

    /**
     * A certificate for a listener, whose device makes the key.
     *
     * @param names that callers call; those of the certificate until now where none are said
     */
    public record Certify(String listener, String authority, Optional<List<String>> names, Optional<Integer> days) {}

    /** @param state valid, expires-soon, expired or revoked */
    public record Certificate(
            String id,
            String authority,
            String serial,
            String purpose,
            String commonName,
            List<String> names,
            String state,
            String custody,
            Instant validFrom,
            Instant expiresAt,
            Optional<Instant> revokedAt) {}

    /**
     * What was signed, in PEM with its authority's behind it; the key store in base64 is given this once.
     */
    public record Signed(Certificate certificate, String pem, Optional<String> keyStore) {}

    /** @param reason unspecified, key-compromise, affiliation-changed, superseded or cessation-of-operation */
    public record Revoke(Optional<String> reason) {}

    private CertificateApi() {}
}
