package tender.service.change;

import java.util.List;
import java.util.UUID;
import tender.api.CertificateApi;
import tender.api.ChangeApi;
import tender.api.ProblemCode;
import tender.core.network.Host;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobRoutes;
import tender.service.job.JobWaits;
import tender.service.office.OfficeRecords;
import tender.store.certificate.Authorities;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.job.Jobs;
import tender.store.office.Gateways;

/**
 * Gives a listener a certificate of one of our authorities. The device makes the key and a request; only certificates and
 * the revocation list go back to it.
 */
final class ListenerCertificateRoutes implements Routes {
    private static final int MAX_NAMES = 50;
    private static final int MAX_DAYS = 3_650;

    private final Db db;
    private final Gateways gateways;
    private final OfficeRecords records;
    private final ChangeRoutes changes;
    private final JobWaits waits;

    ListenerCertificateRoutes(Db db, Gateways gateways, OfficeRecords records, ChangeRoutes changes, JobWaits waits) {
        this.db = db;
        this.gateways = gateways;
        this.records = records;
        this.changes = changes;
        this.waits = waits;
    }

    @Override
    public List<Route> routes() {
        return List.of(Route.post(
                "/gateways/{id}/certificate",
                Role.WRITERS,
                "Give a listener a certificate of one of our authorities, for a key that the device makes",
                CertificateApi.Certify.class,
                ChangeApi.Ordered.class,
                this::certify));
    }

    private Answer certify(Call call) {
        CertificateApi.Certify request = call.body(CertificateApi.Certify.class);
        Gateways.Gateway gateway =
                db.inTransaction(tx -> gateways.byId(tx, call.id())).orElseThrow(() -> ApiFailure.notFound("gateway"));
        String name = Fields.required("listener", request.listener());
        Listener listener = records.device(gateway)
                .listener(name)
                .orElseThrow(() ->
                        new ApiFailure(ProblemCode.NOT_FOUND, gateway.name() + " has no listener " + name, "listener"));
        String authorityName = Fields.required("authority", request.authority());
        Authorities.Authority authority = db.inTransaction(tx -> Authorities.byName(tx, authorityName))
                .orElseThrow(() -> new ApiFailure(ProblemCode.NOT_FOUND, "there is no such authority", "authority"));
        List<String> names = request.names().filter(n -> !n.isEmpty()).orElseGet(() -> called(listener, gateway));
        Fields.range("names", names.size(), 1, MAX_NAMES);
        names.forEach(n -> Fields.parse("names", n, Host::parse));
        request.days().ifPresent(d -> Fields.range("days", d, 1, MAX_DAYS));
        ListenerCertificateJob.Asked asked = new ListenerCertificateJob.Asked(
                Ids.next(),
                gateway.id(),
                name,
                authority.id(),
                names,
                request.days(),
                call.caller().reference());
        UUID job = db.inTransaction(tx -> Jobs.add(tx, ListenerCertificateJob.order(asked)));
        return JobRoutes.whenDone(
                waits, job, gateway.name(), () -> changes.ordered(ListenerCertificateJob.ordered(db, asked)));
    }

    /** What callers call: the names of the listener's certificate until now. */
    private static List<String> called(Listener listener, Gateways.Gateway gateway) {
        List<String> before = listener.words(Attribute.SERVER_NAMES);
        if (before.isEmpty()) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    "which name callers of " + gateway.name() + " " + listener.name()
                            + " call is not known; say it: --names NAME",
                    "names");
        }
        return before;
    }
}
