package tender.standins.listener;

import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.certificate.CertificateFacts;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.trial.ServerTrust;
import tender.core.wire.MalformedException;

/**
 * Whom a listener lets in.
 *
 * @param authorities whose certificates are believed
 * @param revoked serial numbers
 * @param listEnds until when the list of revoked certificates counts; after that nobody is let in by certificate
 * @param accounts passwords by name
 */
public record Callers(
        List<byte[]> authorities, Set<String> revoked, Optional<Instant> listEnds, Map<String, Secret> accounts) {
    public Callers {
        authorities = List.copyOf(authorities);
        revoked = Set.copyOf(revoked);
        accounts = Map.copyOf(accounts);
    }

    /** Why these certificates, a caller's own first, are not believed. */
    public Optional<String> refuses(List<byte[]> chain) {
        try {
            if (chain.isEmpty()) {
                return Optional.of("no certificate came");
            }
            Instant now = Instant.now();
            if (listEnds.filter(end -> end.isBefore(now)).isPresent()) {
                return Optional.of("CRL has expired");
            }
            CertificateFacts own = CertificateFacts.of(chain.get(0));
            Set<ServerTrust.Kind> faults = new HashSet<>();
            ServerTrust.ofIdentity(chain, authorities, Optional.empty(), now)
                    .fatal()
                    .forEach(f -> faults.add(f.kind()));
            if (faults.contains(ServerTrust.Kind.FOREIGN)) {
                return Optional.of("unable to get local issuer certificate: " + own.issuer());
            }
            if (faults.contains(ServerTrust.Kind.ENDED)) {
                return Optional.of("certificate has expired");
            }
            if (faults.contains(ServerTrust.Kind.NOT_YET)) {
                return Optional.of("certificate is not yet valid");
            }
            if (own.role() == CertificateFacts.Role.SERVER) {
                return Optional.of("unsuitable certificate purpose");
            }
            return revoked.contains(own.serial()) ? Optional.of("certificate revoked") : Optional.empty();
        } catch (MalformedException e) {
            return Optional.of("it cannot be read");
        }
    }

    public Optional<Secret> password(String account) {
        return Optional.ofNullable(accounts.get(account));
    }

    public boolean isPassword(String account, byte[] password) {
        return password(account)
                .filter(p -> java.security.MessageDigest.isEqual(p.reveal(RevealSecret.TO_HANDSHAKE), password))
                .isPresent();
    }
}
