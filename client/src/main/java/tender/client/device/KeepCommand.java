package tender.client.device;

import java.time.Duration;
import java.util.Optional;
import java.util.concurrent.ThreadLocalRandom;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;

/** This device's profiles are brought up to date. */
@Command(
        name = "keep",
        mixinStandardHelpOptions = true,
        description = {
            "Bring this device's profiles up to date: new revisions are written, withdrawn profiles removed, and what is new is tried.",
            "Once, as from a timer, or for as long as it runs with --stay: then a change arrives within seconds."
        },
        footer = {
            "",
            "  tender device keep",
            "  tender device keep --stay",
            "  tender device keep --schedule systemd",
            "",
            "Exit code 1 if a profile does not connect or the device was ended, 3 if no service answers."
        })
final class KeepCommand extends ClientCommand {
    private static final int WAIT_SECONDS = 25;
    private static final Duration FIRST_PAUSE = Duration.ofSeconds(1);
    private static final Duration LONGEST_PAUSE = Duration.ofMinutes(5);

    @Option(names = "--stay", description = "Stay, and take each change as it comes.")
    boolean stay;

    @Option(
            names = "--schedule",
            paramLabel = "SYSTEM",
            description =
                    "Print what makes this machine do it every 15 minutes, and where it goes: systemd, launchd or windows.")
    Optional<String> schedule;

    @Mixin
    KeepOptions options;

    @Override
    protected int run() {
        if (schedule.isPresent()) {
            terminal.print(Schedules.of(schedule.get()));
            return 0;
        }
        Keeping keeping = options.keeping(terminal);
        return stay ? staying(keeping) : ended(keeping.round(0));
    }

    private int ended(Keeping.Round round) {
        if (round.state().equals("ended") || round.state().equals("left")) {
            terminal.say(
                    "this device was ended at the service; its profiles are removed. A new provisioning file lets it join again");
            return 1;
        }
        return StatusCommand.show(terminal, round.held());
    }

    /** Where no service answers, it asks again ever more rarely, and not at the same moment as all the others. */
    private int staying(Keeping keeping) {
        Duration pause = FIRST_PAUSE;
        while (true) {
            try {
                Keeping.Round round = keeping.round(WAIT_SECONDS);
                if (round.state().equals("ended") || round.state().equals("left")) {
                    return ended(round);
                }
                pause = FIRST_PAUSE;
                Calls.pause();
            } catch (CallFailure e) {
                if (!isPassing(e)) {
                    throw e;
                }
                terminal.say(e.getMessage() + "; asking again in about " + pause.toSeconds() + " s");
                Calls.pause(pause.plusMillis(ThreadLocalRandom.current().nextLong(pause.toMillis())));
                pause = pause.multipliedBy(2).compareTo(LONGEST_PAUSE) > 0 ? LONGEST_PAUSE : pause.multipliedBy(2);
            }
        }
    }

    private static boolean isPassing(CallFailure e) {
        return e.is(ProblemCode.UNAVAILABLE)
                || e.is(ProblemCode.BUSY)
                || e.is(ProblemCode.TOO_MANY)
                || e.is(ProblemCode.FAILED);
    }
}
