package tender.core.certificate;

import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.bouncycastle.asn1.x509.AuthorityKeyIdentifier;
import org.bouncycastle.asn1.x509.CRLNumber;
import org.bouncycastle.asn1.x509.Extension;
import org.bouncycastle.cert.X509CRLEntryHolder;
import org.bouncycastle.cert.X509CRLHolder;
import tender.core.wire.MalformedException;

/**
 * What a list of revoked certificates says (RFC 5280 §5).
 *
 * @param serials of the revoked, hexadecimal, at most the first thousand
 * @param namesKey whether it names the authority's key; some servers ignore a list that does not
 */
public record RevocationFacts(
        String issuer,
        Instant made,
        Optional<Instant> next,
        Optional<String> number,
        int count,
        List<String> serials,
        boolean namesKey) {
    private static final int MAX_SERIALS = 1_000;

    /**
     * @param der of one list (RFC 5280 §5.1)
     * @throws MalformedException where it is damaged
     */
    public static RevocationFacts of(byte[] der) {
        try {
            X509CRLHolder list = new X509CRLHolder(der);
            List<String> serials = new ArrayList<>();
            int count = 0;
            for (Object entry : list.getRevokedCertificates()) {
                count++;
                if (serials.size() < MAX_SERIALS) {
                    serials.add(((X509CRLEntryHolder) entry).getSerialNumber().toString(16));
                }
            }
            Extension number = list.getExtension(Extension.cRLNumber);
            return new RevocationFacts(
                    CertificateFacts.text(list.getIssuer()),
                    list.getThisUpdate().toInstant(),
                    Optional.ofNullable(list.getNextUpdate()).map(java.util.Date::toInstant),
                    Optional.ofNullable(number)
                            .map(n -> CRLNumber.getInstance(n.getParsedValue())
                                    .getCRLNumber()
                                    .toString()),
                    count,
                    List.copyOf(serials),
                    list.getExtension(Extension.authorityKeyIdentifier) != null
                            && AuthorityKeyIdentifier.getInstance(list.getExtension(Extension.authorityKeyIdentifier)
                                                    .getParsedValue())
                                            .getKeyIdentifierOctets()
                                    != null);
        } catch (IOException | RuntimeException e) {
            throw new MalformedException("revocation-list", "", "the list of revoked certificates is damaged");
        }
    }
}
