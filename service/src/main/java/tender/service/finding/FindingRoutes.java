package tender.service.finding;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.api.ChangeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.core.finding.Finding;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.event.Events;
import tender.store.finding.KeptFindings;
import tender.store.jdbc.Db;
import tender.store.journal.Journal;
import tender.store.office.Acceptances;

/** Findings to work through: listing, and accepting with a reason and an end. */
public final class FindingRoutes implements Routes {
    private static final Duration LONGEST_ACCEPTANCE = Duration.ofDays(366);

    private final Db db;
    private final FindingsList findings;

    FindingRoutes(Db db, FindingsList findings) {
        this.db = db;
        this.findings = findings;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/findings",
                        Role.READERS,
                        "What is wrong or about to be, worst first; accepted ones last; ?gateway= a name, ?severity= error, warning or notice,"
                                + " ?code= a rule's, ?text= a part of the subject, ?open=yes without accepted ones",
                        WatchApi.Finding.class,
                        this::list),
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
                        ChangeApi.FindingKey.class,
                        null,
                        this::reopen));
    }

    private Answer list(Call call) {
        KeptFindings.Filter filter = new KeptFindings.Filter(
                call.query("gateway"),
                call.query("open").filter("yes"::equals).isPresent(),
                call.query("severity"),
                call.query("code"),
                call.text());
        return Cursor.byNumber(
                call,
                (after, limit) -> findings.page(filter, after, limit, call.now()),
                KeptFindings.Kept::id,
                rows -> rows.stream().map(FindingRoutes::render).toList());
    }

    private Answer accept(Call call) {
        ChangeApi.Accept request = call.body(ChangeApi.Accept.class);
        String reason = Fields.title("reason", request.reason());
        Instant until = Fields.given("until", request.until());
        if (!until.isAfter(call.now()) || until.isAfter(call.now().plus(LONGEST_ACCEPTANCE))) {
            throw new ApiFailure(ProblemCode.MALFORMED, "until is a time within the coming year", "until");
        }
        KeptFindings.Kept f = findings.find(Fields.required("key", request.key()), call.now());
        db.run(tx -> {
            Acceptances.put(
                    tx,
                    new Acceptances.Acceptance(
                            f.key(), reason, until, call.caller().reference(), call.now()));
            Events.say(tx, "finding", f.key());
            String words = f.code() + " until " + until + ": " + reason;
            Journal.append(tx, call.by(), "finding-accepted", f.subjectKind(), f.subjectId(), words);
        });
        return Answer.done();
    }

    private Answer reopen(Call call) {
        String key =
                Fields.required("key", call.body(ChangeApi.FindingKey.class).key());
        db.run(tx -> {
            if (!Acceptances.drop(tx, key)) {
                throw ApiFailure.notFound("acceptance of this key");
            }
            Events.say(tx, "finding", key);
            Journal.append(tx, call.by(), "finding-reopened", "finding", key, "");
        });
        return Answer.done();
    }

    /** Findings that a change would bring or fix. */
    public static List<WatchApi.Finding> render(List<Finding> all) {
        return all.stream()
                .map(f -> new WatchApi.Finding(
                        f.key(),
                        f.code(),
                        f.severity().word(),
                        f.subjectKind(),
                        f.subjectId(),
                        f.subject(),
                        f.evidence(),
                        f.breaks(),
                        f.remedy(),
                        f.fix().map(Finding.Fix::gateway),
                        f.fix().map(Finding.Fix::words),
                        Optional.empty(),
                        Optional.empty()))
                .toList();
    }

    /** A finding as it is kept. */
    public static WatchApi.Finding render(KeptFindings.Kept f) {
        return new WatchApi.Finding(
                f.key(),
                f.code(),
                f.severity(),
                f.subjectKind(),
                f.subjectId(),
                f.subject(),
                f.evidence(),
                f.breaks(),
                f.remedy(),
                f.gateway(),
                f.oneStep(),
                f.acceptedReason(),
                f.acceptedUntil());
    }
}
