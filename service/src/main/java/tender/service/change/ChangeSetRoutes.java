package tender.service.change;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.IntStream;
import tender.api.ChangeApi;
import tender.api.Page;
import tender.core.office.Change;
import tender.core.office.Office;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.office.OfficeRecords;
import tender.store.change.ChangeSets;
import tender.store.change.DeviceChanges;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.office.Gateways;

/** Changes of several gateways that are made together: previewed, ordered, looked at. */
final class ChangeSetRoutes implements Routes {
    private static final int MAX_GATEWAYS = 16;
    private static final int SHOWN = 100;

    private final Db db;
    private final Gateways gateways;
    private final OfficeRecords records;
    private final ChangeSetOrdering ordering;

    ChangeSetRoutes(Db db, Gateways gateways, OfficeRecords records, ChangeSetOrdering ordering) {
        this.db = db;
        this.gateways = gateways;
        this.records = records;
        this.ordering = ordering;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.post(
                        "/change-sets/preview",
                        Role.READERS,
                        "What changes of several gateways would do, one after the other",
                        ChangeApi.OrderSet.class,
                        ChangeApi.SetPreview.class,
                        this::preview),
                Route.post(
                        "/change-sets",
                        Role.WRITERS,
                        "Make changes of several gateways together: all of them, or none; each device brings back by itself"
                                + " what was there until all are right",
                        ChangeApi.OrderSet.class,
                        ChangeApi.OrderedSet.class,
                        this::order),
                Route.page(
                        "/change-sets",
                        Role.READERS,
                        "Changes made together, newest first",
                        ChangeApi.ChangeSet.class,
                        call -> Answer.ok(new Page<>(
                                db.inTransaction(tx -> ChangeSets.newest(tx, SHOWN).stream()
                                        .map(set -> render(tx, set))
                                        .toList()),
                                Optional.empty()))),
                Route.get(
                        "/change-sets/{id}",
                        Role.READERS,
                        "One of them with its changes",
                        ChangeApi.ChangeSet.class,
                        call -> Answer.ok(find(call.id()))));
    }

    private List<ChangeSetOrdering.Member> members(Call call) {
        List<ChangeApi.Member> asked =
                Fields.given("members", call.body(ChangeApi.OrderSet.class).members());
        Fields.range("members", asked.size(), 2, MAX_GATEWAYS);
        return IntStream.range(0, asked.size())
                .mapToObj(i -> member("members[" + i + "]", asked.get(i)))
                .toList();
    }

    private ChangeSetOrdering.Member member(String field, ChangeApi.Member asked) {
        String name = Fields.required(field + ".gateway", asked.gateway());
        List<Change> changes = Fields.given(field + ".changes", asked.changes());
        Fields.range(field + ".changes", changes.size(), 1, ChangeRoutes.MAX_CHANGES);
        Gateways.Gateway gateway = db.inTransaction(tx -> gateways.byName(tx, name))
                .orElseThrow(() -> ApiFailure.notFound("gateway: " + field + ".gateway"));
        return new ChangeSetOrdering.Member(gateway, changes);
    }

    /** Each is shown with those before it made already. */
    private Answer preview(Call call) {
        Office office = records.office(call.now());
        List<ChangeApi.MemberPreview> out = new ArrayList<>();
        for (ChangeSetOrdering.Member m : members(call)) {
            ImpactPreview preview = ImpactPreview.of(db, office, m.gateway().name(), m.changes());
            out.add(new ChangeApi.MemberPreview(m.gateway().name(), ChangeView.of(preview)));
            office = preview.impact().after();
        }
        return Answer.ok(new ChangeApi.SetPreview(out));
    }

    private Answer order(Call call) {
        ChangeSetOrdering.Ordered ordered = ordering.order(members(call), call.by());
        return Answer.accepted(
                new ChangeApi.OrderedSet(find(ordered.setId()), ordered.jobId().toString()));
    }

    private ChangeApi.ChangeSet find(UUID id) {
        return db.inTransaction(tx -> ChangeSets.byId(tx, id).map(set -> render(tx, set)))
                .orElseThrow(() -> ApiFailure.notFound("set of changes"));
    }

    private static ChangeApi.ChangeSet render(Tx tx, ChangeSets.ChangeSet set) {
        return new ChangeApi.ChangeSet(
                set.id().toString(),
                set.state().word(),
                set.note(),
                ChangeView.of(tx, DeviceChanges.ofSet(tx, set.id())),
                set.orderedAt(),
                set.endedAt());
    }
}
