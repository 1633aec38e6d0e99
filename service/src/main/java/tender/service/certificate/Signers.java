package tender.service.certificate;

import java.security.SecureRandom;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.store.certificate.Authorities;
import tender.store.jdbc.Tx;

/** Authorities with their keys opened, for signing. */
public final class Signers {
    private final Authorities authorities;
    private final SecureRandom random = new SecureRandom();

    Signers(Authorities authorities) {
        this.authorities = authorities;
    }

    /** The authority with its key; kept no longer than the transaction. */
    public Authority of(Tx tx, Authorities.Authority a) {
        return Authority.of(a.certificate(), CertificateKey.ofPrivate(authorities.key(tx, a.id())), random);
    }
}
