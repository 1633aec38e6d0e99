package tender.service.certificate;

import java.time.Instant;
import java.util.List;
import tender.service.device.DeviceDescriptions;
import tender.service.http.Route;
import tender.service.job.JobKind;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.jdbc.Tx;

/** Authorities, what they sign and revoke, and their lists at gateways. */
public final class CertificateModule implements NodeModule {
    private final Node node;
    private final DeviceDescriptions descriptions;
    private final Authorities authorities;
    private final Certificates certificates;
    private final Signers signers;
    private final Revoking revoking;
    private final Signing signing;

    public CertificateModule(Node node, DeviceDescriptions descriptions) {
        this.node = node;
        this.descriptions = descriptions;
        this.authorities = new Authorities(node.cipher());
        this.certificates = new Certificates(node.cipher());
        this.signers = new Signers(authorities);
        this.revoking = new Revoking(node.db(), signers);
        this.signing = new Signing(node.db(), signers, certificates);
    }

    public Certificates certificates() {
        return certificates;
    }

    public Signers signers() {
        return signers;
    }

    public Revoking revoking() {
        return revoking;
    }

    public Signing signing() {
        return signing;
    }

    /** What is concluded from a reading about revocation lists. */
    public ListsRead listsRead() {
        return new ListsRead(descriptions);
    }

    public RevocationListWrites writes() {
        return new RevocationListWrites(node.db(), node.clock(), descriptions, revoking);
    }

    @Override
    public List<Route> routes() {
        return new CertificateRoutes(
                        node.db(), new AuthorityMaking(node.db(), authorities, revoking), signing, revoking)
                .routes();
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(new ListRenewal(node.db(), node.clock(), revoking));
    }

    @Override
    public void ensure(Tx tx, Instant now) {
        ListRenewal.ensure(tx);
    }
}
