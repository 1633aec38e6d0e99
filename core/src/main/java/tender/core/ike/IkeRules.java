package tender.core.ike;

import java.util.List;
import java.util.Optional;
import tender.core.certificate.CertificateKey;
import tender.core.credential.Secret;
import tender.core.network.Cidr;

/** Who a server is and whom it lets in. */
public interface IkeRules {
    /** What its certificate says. */
    String identity();

    /** Certificates, its own first. */
    List<byte[]> chain();

    CertificateKey key();

    /** Proposals as settings write them. */
    String proposals();

    String tunnelProposals();

    /** What callers may reach. */
    List<Cidr> reach();

    /** Whose certificates are asked for. */
    List<byte[]> authorities();

    /** Why a certificate is not believed; empty where it is. */
    Optional<String> refuses(List<byte[]> chain);

    /** An account's password; empty where there is no such account, or none are taken. */
    Optional<Secret> password(String account);

    /** The secret shared with all; empty where certificates or accounts are wanted. */
    Optional<Secret> shared();

    /** An address and name servers for whoever came in; empty addresses where none is left. */
    Assigned assign(String caller);

    /** A line for the gateway's log. */
    void log(String line);
}
