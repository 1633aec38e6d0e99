package tender.service.change;

import java.util.List;
import tender.api.ChangeApi;
import tender.api.ProblemCode;
import tender.core.finding.Finding;
import tender.core.wire.Fields;
import tender.service.finding.FindingsList;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.office.OfficeDocuments;
import tender.store.finding.KeptFindings;
import tender.store.jdbc.Db;
import tender.store.office.Gateways;

/** Fixing a finding by its one step. */
final class FixRoutes implements Routes {
    private final Db db;
    private final Gateways gateways;
    private final FindingsList findings;
    private final ChangeRoutes changes;
    private final ChangeOrdering ordering;

    FixRoutes(Db db, Gateways gateways, FindingsList findings, ChangeRoutes changes, ChangeOrdering ordering) {
        this.db = db;
        this.gateways = gateways;
        this.findings = findings;
        this.changes = changes;
        this.ordering = ordering;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.post(
                        "/findings/preview",
                        Role.READERS,
                        "What fixing a finding by its one step would do",
                        ChangeApi.FindingKey.class,
                        ChangeApi.Preview.class,
                        this::preview),
                Route.post(
                        "/findings/fix",
                        Role.WRITERS,
                        "Fix a finding by its one step",
                        ChangeApi.FindingKey.class,
                        ChangeApi.Ordered.class,
                        this::apply));
    }

    private KeptFindings.Kept finding(Call call) {
        return findings.find(
                Fields.required("key", call.body(ChangeApi.FindingKey.class).key()), call.now());
    }

    private static Finding.Fix fix(KeptFindings.Kept f) {
        return f.fixChange()
                .map(text -> new Finding.Fix(
                        f.fixGateway().orElseThrow(),
                        OfficeDocuments.CHANGES.read(text).get(0)))
                .orElseThrow(() -> new ApiFailure(
                        ProblemCode.CONFLICT, "there is no one step that Tender can take: " + f.remedy(), "key"));
    }

    private Gateways.Gateway gateway(Finding.Fix fix) {
        return db.inTransaction(tx -> gateways.byName(tx, fix.gateway()))
                .orElseThrow(() -> ApiFailure.notFound("gateway"));
    }

    private Answer preview(Call call) {
        Finding.Fix fix = fix(finding(call));
        return Answer.ok(changes.preview(gateway(fix), List.of(fix.change()), call.now()));
    }

    private Answer apply(Call call) {
        KeptFindings.Kept found = finding(call);
        Finding.Fix fix = fix(found);
        return changes.ordered(ordering.order(
                ChangeOrder.of(gateway(fix), fix.change(), found.subject() + ": " + found.evidence(), call.by()),
                call.now()));
    }
}
