package tender.core.certificate;

import java.io.IOException;
import java.util.List;
import org.bouncycastle.asn1.x509.Extensions;
import org.bouncycastle.operator.OperatorCreationException;
import org.bouncycastle.pkcs.PKCS10CertificationRequest;
import org.bouncycastle.pkcs.PKCSException;
import tender.core.wire.MalformedException;

/** What a request for a certificate says (RFC 2986), and whether whoever made it holds the key. */
public record RequestFacts(String subject, String commonName, List<String> names, KeyFacts key, boolean signed) {
    /**
     * @param der of one certification request (RFC 2986)
     * @throws MalformedException where it is damaged
     */
    public static RequestFacts of(byte[] der) {
        try {
            PKCS10CertificationRequest request = new PKCS10CertificationRequest(der);
            Extensions wanted = request.getRequestedExtensions();
            KeyFacts key = KeyFacts.of(request.getSubjectPublicKeyInfo());
            return new RequestFacts(
                    CertificateFacts.text(request.getSubject()),
                    CertificateFacts.commonName(request.getSubject()),
                    CertificateFacts.names(wanted),
                    key,
                    signed(request, key));
        } catch (IOException | RuntimeException e) {
            throw e instanceof MalformedException m
                    ? m
                    : new MalformedException("request", "", "the request is damaged");
        }
    }

    private static boolean signed(PKCS10CertificationRequest request, KeyFacts key) {
        if (key.algorithm().equals("RSA") && key.bits() > CertificateKey.MOST_RSA_BITS) {
            return false; // not worth the time that a hostile key takes
        }
        try {
            return request.isSignatureValid(SignatureCheck.verifier(request.getSubjectPublicKeyInfo()));
        } catch (IOException | OperatorCreationException | PKCSException | RuntimeException e) {
            return false;
        }
    }
}
