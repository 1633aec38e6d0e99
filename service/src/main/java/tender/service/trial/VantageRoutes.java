package tender.service.trial;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import tender.api.Page;
import tender.api.TrialApi;
import tender.core.certificate.PemText;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.trial.Cause;
import tender.core.trial.Certainty;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.ObservedSettings;
import tender.core.trial.ReachabilityProbe;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.core.trial.Verdict;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.profile.ProfileFiles;
import tender.store.trial.TrialDocuments;

/**
 * Trials made elsewhere: a standing vantage takes those that wait for it and tells what came of them; anyone's client tells of
 * a file that was tried on its machine.
 */
final class VantageRoutes implements Routes {
    private static final int MAX_TEXT = 500;
    private static final int MAX_CAUSES = 10;
    private static final long MAX_MILLIS = 600_000;

    private final Vantages vantages;
    private final ElsewhereTrials elsewhere;
    private final VantageWaits waits;

    VantageRoutes(Vantages vantages, ElsewhereTrials elsewhere, VantageWaits waits) {
        this.vantages = vantages;
        this.elsewhere = elsewhere;
        this.waits = waits;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/vantages",
                        Role.READERS,
                        "Where trials are made from",
                        TrialApi.Vantage.class,
                        call -> Answer.ok(new Page<>(
                                vantages.all().stream()
                                        .map(v -> new TrialApi.Vantage(v.name(), v.kind(), v.heardAt(), v.trials()))
                                        .toList(),
                                Optional.empty()))),
                Route.post(
                        "/vantage/next",
                        Role.VANTAGES,
                        "The next trial for the standing vantage that asks; waits a while for one",
                        null,
                        TrialApi.Handed.class,
                        this::next),
                Route.post(
                        "/vantage/trials/{id}",
                        Role.VANTAGES,
                        "What came of a trial that was handed to a standing vantage",
                        TrialApi.Report.class,
                        null,
                        this::report),
                Route.post(
                        "/trials/reported",
                        Role.WRITERS,
                        "What came of a file of ours that was tried elsewhere; the file is known by its digest",
                        TrialApi.Report.class,
                        TrialApi.Reported.class,
                        this::reported));
    }

    private Answer next(Call call) {
        String name = call.caller().name();
        vantages.heard(name, call.now());
        return new Answer.Later(waits.next(name)
                .thenApply(handed -> Answer.ok(
                        new TrialApi.Handed(handed.map(h -> h.match(VantageRoutes::task, VantageRoutes::task))))));
    }

    private static TrialApi.Task task(Handed.Connect handed) {
        MeasurementOptions wanted = handed.wanted();
        return new TrialApi.Task(
                handed.trialId().toString(),
                handed.subject(),
                Optional.of(handed.file()),
                handed.account().map(ProfileFiles.Account::name),
                handed.account().map(ProfileFiles.Account::password),
                handed.insideHost().map(IpAddress::toString),
                wanted.echoes(),
                wanted.size(),
                wanted.insideName().map(HostName::text),
                wanted.outside().map(IpAddress::toString),
                Optional.empty());
    }

    private static TrialApi.Task task(Handed.Probe handed) {
        ReachabilityProbe probe = handed.probe();
        return TrialApi.Task.ofProbe(
                handed.trialId().toString(),
                handed.subject(),
                new TrialApi.Probe(
                        probe.kind().name().toLowerCase(Locale.ROOT),
                        probe.at().host().toString(),
                        probe.at().port().number(),
                        probe.name(),
                        probe.authorities().stream()
                                .map(a -> PemText.write("CERTIFICATE", a))
                                .toList()));
    }

    private Answer report(Call call) {
        elsewhere.end(call.id(), call.caller().name(), read(call.body(TrialApi.Report.class)), call.now());
        return Answer.done();
    }

    private Answer reported(Call call) {
        TrialApi.Report report = call.body(TrialApi.Report.class);
        String digest = Fields.required("digest", report.digest().orElse(""));
        if (!digest.matches("[0-9a-f]{64}")) {
            throw new MalformedException("digest", "digest", "SHA-256 in hexadecimal");
        }
        return elsewhere
                .ofFile(
                        digest,
                        asked(report.asked().orElse(TrialApi.Asked.NOTHING)),
                        read(report),
                        call.caller().name(),
                        call.by())
                .map(kept -> Answer.ok(
                        new TrialApi.Reported(Optional.of(kept.trialId().toString()), kept.note())))
                .orElseGet(() -> Answer.ok(new TrialApi.Reported(Optional.empty(), Optional.empty())));
    }

    private static TrialReport.Asked asked(TrialApi.Asked asked) {
        return new TrialReport.Asked(
                asked.insideHost().map(h -> address("asked.insideHost", h)),
                new MeasurementOptions(
                        0,
                        false,
                        asked.insideName().map(n -> Fields.parse("asked.insideName", n, HostName::parse)),
                        asked.outside().map(o -> address("asked.outside", o)),
                        false),
                asked.refusal().map(r -> new ParseProblem(0, "refused", cut(r))));
    }

    private static IpAddress address(String field, String text) {
        return Fields.parse(field, text, IpAddress::parse);
    }

    /** Reads what a machine elsewhere says: rungs and verdicts by their words, texts cut to a length. */
    private static TrialReport read(TrialApi.Report report) {
        Fields.range("rungs", report.rungs().size(), 1, Rung.values().length);
        return new TrialReport(
                report.rungs().stream().map(VantageRoutes::rung).toList(),
                report.measured().map(VantageRoutes::measured),
                ObservedSettings.read(report.observed().orElse(Map.of())));
    }

    private static RungResult rung(TrialApi.Rung r) {
        Rung rung = Rung.ofLabel(r.rung())
                .orElseThrow(() -> new MalformedException("rung", "rungs", "there is no such rung"));
        Verdict verdict = Arrays.stream(Verdict.values())
                .filter(v -> TrialRoutes.word(v).equals(r.verdict()))
                .findFirst()
                .orElseThrow(() -> new MalformedException("verdict", "rungs", "there is no such verdict"));
        return new RungResult(
                rung,
                verdict,
                Math.max(0, Math.min(r.millis(), MAX_MILLIS)),
                cut(r.detail()),
                r.causes().stream()
                        .limit(MAX_CAUSES)
                        .map(c -> new Cause(cut(c.code()), certainty(c.certainty()), cut(c.what()), cut(c.remedy())))
                        .toList());
    }

    private static Certainty certainty(String word) {
        return Arrays.stream(Certainty.values())
                .filter(c -> c.name().equalsIgnoreCase(word))
                .findFirst()
                .orElseThrow(() -> new MalformedException("certainty", "rungs", "certain, likely or possible"));
    }

    private static TrialDocuments.Measured measured(TrialApi.Measured m) {
        return new TrialDocuments.Measured(
                m.echoes(),
                m.lostPercent(),
                m.leastMillis(),
                m.meanMillis(),
                m.mostMillis(),
                m.largestPacket(),
                m.name()
                        .map(n -> new TrialDocuments.InsideName(
                                cut(n.name()),
                                address("measured.name.server", n.server()).toString(),
                                n.answered(),
                                n.address()
                                        .map(a -> address("measured.name.address", a)
                                                .toString()))),
                m.exit()
                        .map(e -> new TrialDocuments.Exit(
                                e.full(),
                                e.direct()
                                        .map(a -> address("measured.exit.direct", a)
                                                .toString()),
                                e.through()
                                        .map(a -> address("measured.exit.through", a)
                                                .toString()),
                                e.asClaimed(),
                                cut(e.words()))),
                m.transfer()
                        .map(t -> new TrialDocuments.Transfer(t.bytes(), t.millis(), t.megabits(), cut(t.words()))));
    }

    private static String cut(String text) {
        String plain = text == null ? "" : text.replaceAll("\\p{Cntrl}+", " ");
        return plain.substring(0, Math.min(MAX_TEXT, plain.length()));
    }
}
