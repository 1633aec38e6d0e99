package tender.client.trial;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import tender.api.TrialApi;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.trial.Claims;
import tender.core.trial.ObservedSettings;
import tender.core.trial.RungResult;
import tender.core.wire.ParseProblem;

/** A trial made here, as it is told to the service. */
final class Reporting {
    private Reporting() {}

    static TrialApi.Report of(TextTrial trial, TextTrial.Outcome outcome, Optional<String> digest) {
        return new TrialApi.Report(
                digest,
                Optional.of(new TrialApi.Asked(
                        trial.insideHost().map(IpAddress::toString),
                        trial.wanted().insideName().map(HostName::text),
                        trial.wanted().outside().map(IpAddress::toString),
                        trial.refusal().map(ParseProblem::toString))),
                outcome.ladder().rungs().stream().map(Reporting::rung).toList(),
                outcome.measured().map(TrialApi.Measured::of),
                Optional.of(ObservedSettings.words(outcome.observed())));
    }

    static TrialApi.Rung rung(RungResult r) {
        List<TrialApi.Cause> causes = r.causes().stream()
                .map(c -> new TrialApi.Cause(c.code(), word(c.certainty()), c.what(), c.remedy()))
                .toList();
        return new TrialApi.Rung(
                r.rung().label(), r.rung().meaning(), word(r.verdict()), r.millis(), r.detail(), causes);
    }

    static List<TrialApi.Claim> claims(Claims claims) {
        return claims.all().stream()
                .map(c -> new TrialApi.Claim(word(c.kind()), c.shown(), c.said()))
                .toList();
    }

    private static String word(Enum<?> value) {
        return value.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }
}
