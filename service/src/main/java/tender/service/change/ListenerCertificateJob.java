package tender.service.change;

import com.fasterxml.jackson.core.type.TypeReference;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.certificate.Authority;
import tender.core.certificate.Lifetimes;
import tender.core.certificate.PemText;
import tender.core.office.Change;
import tender.core.office.ListenerChange;
import tender.io.gateway.ManagementConnection;
import tender.service.certificate.SignOrder;
import tender.service.certificate.Signing;
import tender.service.device.Connections;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.store.certificate.Authorities;
import tender.store.change.DeviceChanges;
import tender.store.document.Document;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.office.Gateways;

/**
 * Lets a device make a key and a request for a listener's certificate, signs it, and orders the change that gives the listener
 * the certificate.
 */
final class ListenerCertificateJob implements JobKind {
    private static final String NAME = "listener-certificate";

    /** @param changeId the change's that is ordered in the end */
    record Asked(
            UUID changeId,
            UUID gatewayId,
            String listener,
            UUID authorityId,
            List<String> names,
            Optional<Integer> days,
            String actor) {}

    private static final Document<Asked> ASKED =
            Document.of("a wanted listener's certificate", new TypeReference<>() {});

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final Connections connections;
    private final Signing signing;
    private final ChangeOrdering ordering;

    ListenerCertificateJob(
            Db db, Clock clock, Gateways gateways, Connections connections, Signing signing, ChangeOrdering ordering) {
        this.db = db;
        this.clock = clock;
        this.gateways = gateways;
        this.connections = connections;
        this.signing = signing;
        this.ordering = ordering;
    }

    static Jobs.Order order(Asked asked) {
        return Jobs.Order.once(NAME, ASKED.write(asked), "gateway:" + asked.gatewayId())
                .attempts(1); // whoever wants it hears at once that it failed
    }

    /** The change that was ordered in the end. */
    static ChangeOrdering.Ordered ordered(Db db, Asked asked) {
        return db.inTransaction(tx -> new ChangeOrdering.Ordered(
                DeviceChanges.byId(tx, asked.changeId()).orElseThrow(),
                Jobs.newest(tx, ChangeSteps.JOB, asked.changeId().toString())));
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public Lane lane() {
        return Lane.INTERACTIVE;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        Asked asked = ASKED.read(job.payload());
        Instant now = clock.instant();
        Gateways.Gateway gateway =
                db.inTransaction(tx -> gateways.byId(tx, asked.gatewayId())).orElseThrow();
        Authorities.Authority authority = db.inTransaction(tx -> Authorities.byId(tx, asked.authorityId()))
                .orElseThrow();
        progress.at(20, "letting " + gateway.name() + " make a key");
        byte[] request;
        try (ManagementConnection connection = connections.open(gateway.id())) {
            request = connection.request(asked.listener());
        }
        Signing.Signed signed = signing.sign(
                authority.id(),
                new SignOrder(
                        Authority.Purpose.SERVER,
                        asked.names().get(0),
                        asked.names(),
                        asked.days().orElse((int) Lifetimes.LISTENER.toDays()),
                        new SignOrder.OnDevice(Authority.publicKeyOf(request))),
                new By(asked.actor(), now));
        Change change = new ListenerChange.UseCertificate(
                asked.listener(),
                PemText.write("CERTIFICATE", signed.certificate().content()),
                PemText.write("CERTIFICATE", authority.certificate()),
                PemText.write("X509 CRL", authority.list()));
        ordering.order(
                new ChangeOrder(
                        asked.changeId(),
                        gateway,
                        List.of(change),
                        Optional.empty(),
                        now,
                        Optional.empty(),
                        Optional.empty(),
                        "",
                        asked.actor()),
                now);
    }
}
