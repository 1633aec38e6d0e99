package tender.service.trial;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.RungResult;
import tender.core.wire.ParseProblem;
import tender.store.trial.TrialDocuments;

/** What somebody elsewhere says that a trial showed; texts are cut to a length, addresses are some. */
record TrialReport(
        List<RungResult> rungs, Optional<TrialDocuments.Measured> measured, Map<Attribute, String> observed) {
    /**
     * What was to be shown by a file that was tried elsewhere.
     *
     * @param insideHost to be reached, {@code wanted} the name and the way outside
     * @param refusal why the program that the file is for refuses it, where it does
     */
    record Asked(Optional<IpAddress> insideHost, MeasurementOptions wanted, Optional<ParseProblem> refusal) {}

    Ladder ladder() {
        return new Ladder(rungs);
    }
}
