package tender.service.trial;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.TrialApi;
import tender.core.network.HostName;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.profile.AskedFor;
import tender.store.jdbc.Db;
import tender.store.trial.TrialDocuments;
import tender.store.trial.Trials;

/** Starting trials and reading their ladders. */
final class TrialRoutes implements Routes {
    private final Db db;
    private final Starting starting;

    TrialRoutes(Db db, Starting starting) {
        this.db = db;
        this.starting = starting;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                                "/trials",
                                Role.READERS,
                                "Trials, newest first; " + AskedFor.WORDS,
                                TrialApi.Trial.class,
                                call -> Cursor.newestFirst(
                                        call,
                                        Trials.SORTS,
                                        slice -> db.inTransaction(tx -> Trials.page(tx, AskedFor.of(call), slice)),
                                        Trials.Trial::id,
                                        this::render))
                        .sortedBy(Trials.SORTS.keySet()),
                Route.get(
                        "/trials/{id}",
                        Role.READERS,
                        "One trial with its rungs",
                        TrialApi.Trial.class,
                        call -> Answer.ok(find(call.id()))),
                Route.post(
                        "/trials",
                        Role.WRITERS,
                        "Try a profile, or a listener, from the service or a standing vantage",
                        TrialApi.Start.class,
                        TrialApi.Trial.class,
                        this::start));
    }

    private Answer start(Call call) {
        TrialApi.Start asked = call.body(TrialApi.Start.class);
        Optional<HostName> insideName = asked.insideName().map(n -> Fields.parse("insideName", n, HostName::parse));
        if (asked.profile().isPresent() == asked.gateway().isPresent()) {
            throw new MalformedException("trial", "profile", "say either a profile or a gateway");
        }
        Starting.Subject subject = asked.profile().isPresent()
                ? starting.ofProfile(Fields.required("profile", asked.profile().get()))
                : starting.ofListener(asked.gateway().get(), asked.listener(), call.by());
        Optional<TrialDocuments.Asked> measure = asked.measure() || insideName.isPresent()
                ? Optional.of(TrialRunner.measuring(asked.measure(), insideName))
                : Optional.empty();
        UUID id = starting.start(subject, measure, asked.from().orElse(Vantages.SERVICE), call.by());
        return Answer.accepted(find(id));
    }

    private TrialApi.Trial find(UUID id) {
        return render(db.inTransaction(tx -> Trials.byId(tx, id)).stream().toList()).stream()
                .findFirst()
                .orElseThrow(() -> ApiFailure.notFound("trial"));
    }

    private List<TrialApi.Trial> render(List<Trials.Trial> all) {
        List<UUID> ids = all.stream().map(Trials.Trial::id).toList();
        Map<UUID, List<Trials.RungRow>> rungs = db.inTransaction(tx -> Trials.rungs(tx, ids)).stream()
                .collect(Collectors.groupingBy(Trials.RungRow::trialId));
        return all.stream()
                .map(t -> render(t, rungs.getOrDefault(t.id(), List.of())))
                .toList();
    }

    private static TrialApi.Trial render(Trials.Trial t, List<Trials.RungRow> rungs) {
        Optional<Rung> failed = TrialRecorder.ladder(rungs).failure().map(RungResult::rung);
        return new TrialApi.Trial(
                t.id().toString(),
                t.label(),
                t.person(),
                t.gateway(),
                t.vantage(),
                t.subject(),
                t.restsOn(),
                t.state().word(),
                t.rung().map(Rung::label),
                t.proven(),
                t.proven().map(p -> TrialKinds.verdict(t.protocol(), p, failed)),
                TrialRecorder.result(t.claims()),
                t.claims().stream()
                        .map(c -> new TrialApi.Claim(c.kind(), c.shown(), c.words()))
                        .toList(),
                t.note(),
                rungs.stream().map(TrialRoutes::render).toList(),
                t.measured().map(TrialRoutes::render),
                t.createdAt(),
                t.endedAt());
    }

    private static TrialApi.Rung render(Trials.RungRow r) {
        return new TrialApi.Rung(
                r.rung().label(),
                r.rung().meaning(),
                word(r.verdict()),
                r.millis(),
                r.detail(),
                r.causes().stream()
                        .map(c -> new TrialApi.Cause(c.code(), c.certainty(), c.what(), c.remedy()))
                        .toList());
    }

    /** A verdict as people read it: {@code not tried}. */
    static String word(Enum<?> verdict) {
        return verdict.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    private static TrialApi.Measured render(TrialDocuments.Measured m) {
        return new TrialApi.Measured(
                m.echoes(),
                m.lostPercent(),
                m.leastMillis(),
                m.meanMillis(),
                m.mostMillis(),
                m.largestPacket(),
                m.name().map(n -> new TrialApi.InsideName(n.name(), n.server(), n.answered(), n.address())),
                m.exit().map(e -> new TrialApi.Exit(e.full(), e.direct(), e.through(), e.asClaimed(), e.words())),
                m.transfer().map(t -> new TrialApi.Transfer(t.bytes(), t.millis(), t.megabits(), t.words())));
    }
}
