package tender.io.trial;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import tender.core.trial.Ladder;
import tender.core.trial.Measured;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.OpenVpnSeen;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.io.names.NameService;

/**
 * Tries the places that an OpenVPN file calls, in the file's order, until one is proven, as a client goes on to the next. What
 * is told is the proven one, or the first where none is; how the others fared stands beside it.
 *
 * @param question the one place that is told
 */
public record OpenVpnCalls(OpenVpnQuestion question, OpenVpnSeen seen, Optional<Measured> measured) {
    /** @param places what the file calls, at least one */
    public static OpenVpnCalls run(
            List<OpenVpnQuestion> places, NameService names, MeasurementOptions wanted, Consumer<Rung> entering) {
        List<OpenVpnCalls> made = new ArrayList<>();
        List<String> fared = new ArrayList<>();
        for (OpenVpnQuestion place : places) {
            OpenVpnCalls call = call(place, names, wanted, entering);
            // a server may refuse the password at first and ask for a code; the answer is a call of its own
            Optional<OpenVpnQuestion> answer = call.seen.refused().flatMap(place::answering);
            if (answer.isPresent()) {
                call = call(answer.get(), names, wanted, entering);
            }
            Ladder ladder = OpenVpnLadder.judge(call.question, call.seen, Optional.empty());
            made.add(call);
            if (ladder.isProven()) {
                return made.get(made.size() - 1).beside(fared);
            }
            fared.add(place.place() + " fails at "
                    + ladder.failure().map(RungResult::rung).map(Rung::label).orElse("the end"));
        }
        return made.get(0).beside(fared.subList(1, fared.size()));
    }

    private static OpenVpnCalls call(
            OpenVpnQuestion place, NameService names, MeasurementOptions wanted, Consumer<Rung> entering) {
        OpenVpnTrial trial = new OpenVpnTrial(place, names, wanted, entering);
        return new OpenVpnCalls(place, trial.run(), trial.measured());
    }

    private OpenVpnCalls beside(List<String> others) {
        return new OpenVpnCalls(question, seen.withOthers(others), measured);
    }
}
