package tender.io.trial;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import tender.core.trial.Ladder;
import tender.core.trial.Measured;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.OpenVpnSeen;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.core.trial.Wanted;
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
            List<OpenVpnQuestion> places, NameService names, Wanted wanted, Consumer<Rung> entering) {
        List<OpenVpnCalls> made = new ArrayList<>();
        List<String> fared = new ArrayList<>();
        for (OpenVpnQuestion place : places) {
            OpenVpnTrial trial = new OpenVpnTrial(place, names, wanted, entering);
            OpenVpnSeen seen = trial.run();
            Ladder ladder = OpenVpnLadder.judge(place, seen, Optional.empty());
            made.add(new OpenVpnCalls(place, seen, trial.measured()));
            if (ladder.isProven()) {
                return made.get(made.size() - 1).beside(fared);
            }
            fared.add(place.place() + " fails at "
                    + ladder.failure().map(RungResult::rung).map(Rung::label).orElse("the end"));
        }
        return made.get(0).beside(fared.subList(1, fared.size()));
    }

    private OpenVpnCalls beside(List<String> others) {
        return new OpenVpnCalls(question, seen.withOthers(others), measured);
    }
}
