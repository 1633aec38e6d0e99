package tender.service.finding;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.api.ChangeApi;
import tender.api.Page;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.core.finding.Finding;
import tender.core.wire.Fields;
import tender.service.change.ChangeRoutes;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.store.jdbc.Db;
import tender.store.journal.Journal;
import tender.store.office.Acceptances;
import tender.store.office.Gateways;

/** Findings to work through: listing, mending by their one step, accepting with a reason and an end. */
public final class FindingRoutes {
    private static final Duration LONGEST_ACCEPTANCE = Duration.ofDays(366);

    private final Db db;
    private final Gateways gateways;
    private final FindingsList findings;
    private final ChangeRoutes changes;

    public FindingRoutes(Db db, Gateways gateways, FindingsList findings, ChangeRoutes changes) {
        this.db = db;
        this.gateways = gateways;
        this.findings = findings;
        this.changes = changes;
    }

    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/findings",
                        Role.READERS,
                        "What is wrong or about to be, worst first; accepted ones last",
                        WatchApi.Finding.class,
                        call -> Answer.ok(new Page<>(findings.all(call.now()), Optional.empty()))),
                Route.post(
                        "/findings/preview",
                        Role.READERS,
                        "What mending a finding by its one step would do",
                        ChangeApi.Mend.class,
                        ChangeApi.Preview.class,
                        this::preview),
                Route.post(
                        "/findings/mend",
                        Role.WRITERS,
                        "Mend a finding by its one step",
                        ChangeApi.Mend.class,
                        ChangeApi.Ordered.class,
                        this::mend),
                Route.post(
                        "/findings/accept",
                        Role.WRITERS,
                        "Accept a finding until a date, with a reason",
                        ChangeApi.Accept.class,
                        null,
                        this::accept),
                Route.post(
                        "/findings/reopen",
                        Role.WRITERS,
                        "Take an acceptance back",
                        ChangeApi.Mend.class,
                        null,
                        this::reopen));
    }

    private Finding find(String key, Instant now) {
        String wanted = Fields.required("key", key);
        return findings.found(now).stream()
                .filter(f -> f.key().equals(wanted))
                .findFirst()
                .orElseThrow(() -> ApiFailure.notFound("finding of this key"));
    }

    private static Finding.Fix fix(Finding f) {
        return f.fix()
                .orElseThrow(() -> new ApiFailure(
                        ProblemCode.CONFLICT, "there is no one step that Tender can take: " + f.remedy(), "key"));
    }

    private Gateways.Gateway gateway(Finding.Fix fix) {
        return db.inTransaction(tx -> gateways.byName(tx, fix.gateway()))
                .orElseThrow(() -> ApiFailure.notFound("gateway"));
    }

    private Answer preview(Call call) {
        Finding.Fix fix = fix(find(call.body(ChangeApi.Mend.class).key(), call.now()));
        return Answer.ok(changes.preview(gateway(fix), List.of(fix.change()), call.now()));
    }

    private Answer mend(Call call) {
        Finding f = find(call.body(ChangeApi.Mend.class).key(), call.now());
        Finding.Fix fix = fix(f);
        return changes.ordered(changes.order(
                gateway(fix),
                List.of(fix.change()),
                Optional.empty(),
                call.now(),
                Optional.empty(),
                Optional.empty(),
                call.caller().reference(),
                call.now()));
    }

    private Answer accept(Call call) {
        ChangeApi.Accept request = call.body(ChangeApi.Accept.class);
        String reason = Fields.title("reason", request.reason());
        Instant until = Fields.given("until", request.until());
        if (!until.isAfter(call.now()) || until.isAfter(call.now().plus(LONGEST_ACCEPTANCE))) {
            throw new ApiFailure(ProblemCode.MALFORMED, "until is a time within the coming year", "until");
        }
        Finding f = find(request.key(), call.now());
        db.run(tx -> {
            Acceptances.put(
                    tx,
                    new Acceptances.Acceptance(
                            f.key(), reason, until, call.caller().reference(), call.now()));
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "finding-accepted",
                    f.subjectKind(),
                    f.subjectId(),
                    f.code() + " until " + until + ": " + reason);
        });
        return Answer.done();
    }

    private Answer reopen(Call call) {
        String key = Fields.required("key", call.body(ChangeApi.Mend.class).key());
        db.run(tx -> {
            if (!Acceptances.drop(tx, key)) {
                throw ApiFailure.notFound("acceptance of this key");
            }
            Journal.append(tx, call.now(), call.caller().reference(), "finding-reopened", "finding", key, "");
        });
        return Answer.done();
    }
}
