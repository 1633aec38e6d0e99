package tender.core.certificate;

import java.io.IOException;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.bouncycastle.asn1.x509.CRLNumber;
import org.bouncycastle.asn1.x509.CRLReason;
import org.bouncycastle.asn1.x509.Extension;
import org.bouncycastle.cert.X509CRLEntryHolder;
import org.bouncycastle.cert.X509CRLHolder;
import tender.core.wire.MalformedException;

/** A whole revocation list (CRL, RFC 5280 §5): every entry, and whether an authority signed it. */
public final class RevocationList {
    /** A list of more entries is not read. */
    public static final int MAX_ENTRIES = 1_000_000;

    private final X509CRLHolder list;
    private Set<BigInteger> serials; // read when they are asked for

    private RevocationList(X509CRLHolder list) {
        this.list = list;
    }

    /**
     * @param der of one list (RFC 5280 §5.1)
     * @throws MalformedException where it is damaged
     */
    public static RevocationList of(byte[] der) {
        try {
            return new RevocationList(new X509CRLHolder(der));
        } catch (IOException | RuntimeException e) {
            throw new MalformedException("revocation-list", "", "the revocation list is damaged");
        }
    }

    /** Its number, 0 where it has none. */
    public long number() {
        Extension number = list.getExtension(Extension.cRLNumber);
        if (number == null) {
            return 0;
        }
        BigInteger value = CRLNumber.getInstance(number.getParsedValue()).getCRLNumber();
        return value.bitLength() > 62 ? 1L << 62 : value.longValue();
    }

    public List<Authority.Revoked> revoked() {
        var entries = list.getRevokedCertificates();
        if (entries.size() > MAX_ENTRIES) {
            throw new MalformedException("revocation-list", "", "the revocation list has more entries than are read");
        }
        List<Authority.Revoked> out = new ArrayList<>();
        for (Object entry : entries) {
            X509CRLEntryHolder revoked = (X509CRLEntryHolder) entry;
            out.add(new Authority.Revoked(
                    revoked.getSerialNumber().toString(16),
                    revoked.getRevocationDate().toInstant(),
                    reason(revoked)));
        }
        return out;
    }

    private static int reason(X509CRLEntryHolder entry) {
        Extension reason = entry.getExtension(Extension.reasonCode);
        return reason == null
                ? 0
                : CRLReason.getInstance(reason.getParsedValue()).getValue().intValue();
    }

    public String issuer() {
        return CertificateFacts.text(list.getIssuer());
    }

    /** @param serial hexadecimal */
    public boolean revokes(String serial) {
        if (serials == null) {
            Set<BigInteger> all = new HashSet<>();
            for (Object entry : list.getRevokedCertificates()) {
                all.add(((X509CRLEntryHolder) entry).getSerialNumber());
            }
            serials = all;
        }
        return serials.contains(new BigInteger(serial, 16));
    }

    /** Whether the authority of this certificate signed the list. */
    public boolean isSignedBy(byte[] authority) {
        return SignatureCheck.isSigned(list, authority);
    }
}
