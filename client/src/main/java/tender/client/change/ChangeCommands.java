package tender.client.change;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tender.api.ChangeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.Terminal;

/** Changes of devices' settings. */
public final class ChangeCommands {
    private ChangeCommands() {}

    public static void show(Terminal terminal, ChangeApi.Preview p) {
        if (terminal.json) {
            terminal.json(p);
            return;
        }
        p.words().forEach(w -> terminal.print("change       " + w));
        terminal.print("restart      " + p.restartWords());
        if (!p.cutOff().isEmpty()) {
            terminal.print("cut off      " + String.join(", ", p.cutOff()));
        }
        terminal.print("files        " + p.works() + (p.works() == 1 ? " keeps" : " keep") + " working, "
                + p.affected().size() + " affected");
        for (ChangeApi.Affected a : p.affected()) {
            terminal.print("  " + a.person() + "  " + a.label() + "  "
                    + (a.fate().equals("refreshes") ? "refreshes by itself" : "needs a new handout"));
            a.differences()
                    .forEach(d -> terminal.print("      " + d.field() + ": " + d.was() + " becomes " + d.becomes()));
        }
        p.vanishes().forEach(f -> terminal.print("fixes        " + f.subject() + " (" + f.code() + ")"));
        p.appears()
                .forEach(f -> terminal.print("brings       " + f.subject() + " (" + f.code() + "): " + f.evidence()));
        if (p.byHand()) {
            terminal.print("by hand      Tender does not write this gateway: it becomes an instruction for a person");
        }
        if (p.guarded()) {
            terminal.print("rollback     armed on the device until Tender has read it again");
        }
    }

    static List<String> row(ChangeApi.DeviceChange c) {
        return List.of(
                Found.shortId(c.id()),
                c.gateway(),
                c.state()
                        + c.revertAt()
                                .filter(at -> c.state().equals("active"))
                                .map(at -> ", until " + at)
                                .orElse(""),
                Terminal.ago(c.orderedAt()),
                c.words(),
                c.note()
                        + (c.usersLeft().isEmpty()
                                ? ""
                                : "; " + c.removeWhenUnused().orElse("") + " still held by "
                                        + String.join(", ", c.usersLeft())));
    }

    /** Waits for the change's end and says what became of it. */
    public static int await(Terminal terminal, Calls calls, ChangeApi.Ordered ordered) {
        if (ordered.jobId().isEmpty()) {
            return byHand(terminal, ordered.change());
        }
        WatchApi.Job job = calls.await(ordered.jobId().get(), note -> terminal.say("  " + note));
        ChangeApi.DeviceChange c = calls.get("/changes/" + ordered.change().id(), ChangeApi.DeviceChange.class);
        if (terminal.json) {
            terminal.json(c);
        } else {
            terminal.print(c.gateway() + ": " + c.state() + ", " + (c.note().isEmpty() ? job.note() : c.note()));
            if (c.state().equals("active")) {
                terminal.say(
                        "  do: tender change keep " + c.gateway() + "   or   tender change rollback " + c.gateway());
            }
        }
        return c.state().equals("kept") || c.state().equals("active") ? 0 : 1;
    }

    /** Somebody has to make it: says how to go on. */
    private static int byHand(Terminal terminal, ChangeApi.DeviceChange c) {
        if (terminal.json) {
            terminal.json(c);
            return 0;
        }
        terminal.print(c.gateway() + ": to be done by hand: " + c.words());
        String id = Found.shortId(c.id());
        terminal.say("  do: tender instruction show " + id
                + "   shows what to enter there; when it is done: tender instruction" + " done " + id);
        return 0;
    }

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description = "List the changes of a gateway, or all temporary changes.")
    static final class Ls extends ClientCommand {
        @Parameters(paramLabel = "GATEWAY", arity = "0..1")
        Optional<String> gateway;

        @Override
        protected int run() {
            Calls calls = calls();
            String path = gateway.map(
                            name -> "/gateways/" + Found.gateway(calls, name).id() + "/changes")
                    .orElse("/changes/temporary");
            List<ChangeApi.DeviceChange> all = calls.list(path, ChangeApi.DeviceChange.class, 200);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("CHANGE", "GATEWAY", "STATE", "ORDERED", "WHAT", "NOTE"),
                        all.stream().map(ChangeCommands::row).toList(),
                        gateway.isPresent() ? "no change was made through Tender yet" : "no change is temporary now");
            }
            return 0;
        }
    }

    private static ChangeApi.DeviceChange temporary(Calls calls, String gateway) {
        return calls.list("/changes/temporary", ChangeApi.DeviceChange.class, 200).stream()
                .filter(c -> c.gateway().equals(gateway))
                .findFirst()
                .orElseThrow(() -> CallFailure.of(ProblemCode.NOT_FOUND, "no change at " + gateway + " is temporary"));
    }

    @Command(
            name = "keep",
            mixinStandardHelpOptions = true,
            description = "Make a gateway's temporary change permanent.")
    static final class Keep extends ClientCommand {
        @Parameters(paramLabel = "GATEWAY")
        String gateway;

        @Override
        protected int run() {
            Calls calls = calls();
            calls.post("/changes/" + temporary(calls, gateway).id() + "/keep", null, ChangeApi.DeviceChange.class);
            terminal.say("kept");
            return 0;
        }
    }

    @Command(
            name = "rollback",
            mixinStandardHelpOptions = true,
            description = "Roll back a gateway's temporary change now.")
    static final class Rollback extends ClientCommand {
        @Parameters(paramLabel = "GATEWAY")
        String gateway;

        @Override
        protected int run() {
            Calls calls = calls();
            calls.post("/changes/" + temporary(calls, gateway).id() + "/rollback", null, ChangeApi.DeviceChange.class);
            terminal.say("rolled back");
            return 0;
        }
    }
}
