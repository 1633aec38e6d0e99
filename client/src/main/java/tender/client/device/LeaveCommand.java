package tender.client.device;

import java.nio.file.Path;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tender.client.command.CallFailure;
import tender.client.command.ClientCommand;

/** This device leaves. */
@Command(
        name = "leave",
        mixinStandardHelpOptions = true,
        description = {
            "This device leaves: its profiles and its key are removed here, and the service is told.",
            "The profiles themselves stay valid at the gateways until somebody withdraws them."
        },
        footer = {"", "  tender device leave", "", "Exit code 3 if no service answers; --offline leaves all the same."})
final class LeaveCommand extends ClientCommand {
    @Option(names = "--yes", description = "Do not ask.")
    boolean yes;

    @Option(names = "--offline", description = "Leave although no service answers.")
    boolean offline;

    @Override
    protected int run() {
        DeviceState state = DeviceState.require();
        if (!terminal.confirmed("Remove " + state.held().size() + " profiles and this device's key?", yes)) {
            return 1;
        }
        try {
            new ServiceCalls(state.opened().file(), state.signing(), state.enrolment())
                    .send(ServiceCalls.Request.of("DELETE", "/device"));
        } catch (CallFailure e) {
            if (!offline) {
                throw e;
            }
            terminal.say("the service was not told: " + e.getMessage());
        }
        ProfileFolder folder = new ProfileFolder(Path.of(state.folder()));
        state.held().forEach(h -> folder.remove(folder.found(h)).forEach(p -> terminal.print("removed " + p)));
        ProfileFolder.delete(DeviceState.file());
        terminal.say(state.device() + " has left");
        return 0;
    }
}
