package tender.client.departure;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.DepartureApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.Terminal;

/** What ends when somebody leaves or a device is lost, and what is shown of it. */
public final class DepartureCommands {
    private static final int MOST = 500;
    private static final Duration PATIENCE = Duration.ofSeconds(90);
    private static final Duration PAUSE = Duration.ofSeconds(1);

    private DepartureCommands() {}

    /** Shows what ends, asks, carries it out, and waits for the proof: 0 where everything is shown to be refused or cannot be tried. */
    static int depart(Terminal terminal, Calls calls, String path, LeaveCommands.How how) {
        DepartureApi.Plan plan = calls.post(path, new DepartureApi.Leave(Optional.of(true)), DepartureApi.Plan.class);
        if (how.dryRun || !terminal.json) {
            show(terminal, plan);
        }
        if (how.dryRun) {
            terminal.say("nothing was done");
            return 0;
        }
        if (!terminal.confirmed("Withdraw all of this? It cannot be undone.", how.yes)) {
            return 1;
        }
        String id = calls.post(path, new DepartureApi.Leave(Optional.of(false)), DepartureApi.Plan.class)
                .departureId()
                .orElseThrow();
        terminal.say("withdrawn; now trying with the very files whether they are refused");
        Instant end = Instant.now().plus(PATIENCE);
        DepartureApi.Shown now = shown(calls, id);
        while (!how.noWait && now.departure().open() > 0 && Instant.now().isBefore(end)) {
            Calls.pause(PAUSE);
            now = shown(calls, id);
        }
        show(terminal, now);
        return how.noWait || now.departure().open() == 0 ? 0 : 1;
    }

    private static DepartureApi.Shown shown(Calls calls, String id) {
        return calls.get("/departures/" + id, DepartureApi.Shown.class);
    }

    private static void show(Terminal terminal, DepartureApi.Plan p) {
        if (terminal.json) {
            terminal.json(p);
            return;
        }
        terminal.print(p.device().map(d -> p.person() + "'s " + d + " is lost").orElse(p.person() + " leaves") + ":");
        terminal.table(
                List.of("PROFILE", "GATEWAY", "HOW IT ENDS"),
                p.endings().stream()
                        .map(e -> List.of(e.profile() + (e.connected() ? ", connected now" : ""), e.gateway(), e.how()))
                        .toList(),
                "there is no profile that is not withdrawn");
        if (!p.secrets().isEmpty()) {
            terminal.print("goes on knowing: " + String.join(", ", p.secrets())
                    + ", which everybody there shares; change them at a quiet time");
        }
    }

    private static void show(Terminal terminal, DepartureApi.Shown s) {
        if (terminal.json) {
            terminal.json(s);
            return;
        }
        terminal.table(
                List.of("PROFILE", "GATEWAY", "SHOWN", "HOW"),
                s.refusals().stream()
                        .map(r -> List.of(
                                r.profile(),
                                r.gateway(),
                                r.shown().equals("open") ? "not yet" : r.shown().replace('-', ' '),
                                how(r)))
                        .toList(),
                "");
        if (s.departure().open() > 0) {
            terminal.say("what is open is tried again until it is shown; do: tender departure show "
                    + Found.shortId(s.departure().id()) + ", tender instruction list");
        }
    }

    private static String how(DepartureApi.Refusal r) {
        String open =
                r.state().equals("closing") ? "to be closed by hand" : "the gateway does not show yet that it is gone";
        return r.control()
                .filter(c -> r.shown().equals("refused"))
                .map(c -> "while " + c + " was let in")
                .or(r::found)
                .orElse(r.shown().equals("open") ? open : "");
    }

    private static DepartureApi.Departure find(Calls calls, String name) {
        return calls.list("/departures", DepartureApi.Departure.class, MOST).stream()
                .filter(d -> name.equals(Found.shortId(d.id())) || name.equals(d.id()) || name.equals(d.handle()))
                .findFirst()
                .orElseThrow(() -> CallFailure.of(
                        ProblemCode.NOT_FOUND, "nobody called " + name + " left; tender departure list names them"));
    }

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description = "List people who left and devices that were lost, newest first.",
            footer = {"", "  tender departure list", "  tender departure list --person mara --json"})
    static final class Ls extends ClientCommand {
        @Option(names = "--person", description = "Of this person and their devices.")
        Optional<String> person;

        @Override
        protected int run() {
            List<DepartureApi.Departure> all = calls().list(
                            Calls.query("/departures", Map.of("person", person)), DepartureApi.Departure.class, MOST);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("DEPARTURE", "WHO", "WHEN", "PROFILES", "NOT SHOWN YET"),
                        all.stream()
                                .map(d -> List.of(
                                        Found.shortId(d.id()),
                                        d.handle()
                                                + d.device()
                                                        .map(e -> "/" + e + ", lost")
                                                        .orElse(", left"),
                                        Terminal.ago(d.orderedAt()),
                                        Integer.toString(d.profiles()),
                                        d.open() == 0 ? "" : Integer.toString(d.open())))
                                .toList(),
                        "nobody left and no device was lost; tender person leave NAME, tender device lost PERSON DEVICE");
            }
            return 0;
        }
    }

    @Command(
            name = "show",
            mixinStandardHelpOptions = true,
            description = "Show for each withdrawn profile whether a trial has shown that it is refused.",
            footer = {"", "  tender departure show mara"})
    static final class Show extends ClientCommand {
        @Parameters(
                paramLabel = "DEPARTURE",
                description = "As tender departure list shows it, or a handle: the newest.")
        String name;

        @Override
        protected int run() {
            Calls calls = calls();
            show(terminal, shown(calls, find(calls, name).id()));
            return 0;
        }
    }

    @Command(
            name = "check",
            mixinStandardHelpOptions = true,
            description = "Try now what is not shown to be refused yet. Exit code 1 if something stays open.",
            footer = {"", "  tender departure check mara"})
    static final class Check extends ClientCommand {
        @Parameters(paramLabel = "DEPARTURE")
        String name;

        @Override
        protected int run() {
            Calls calls = calls();
            DepartureApi.Shown now =
                    calls.post("/departures/" + find(calls, name).id() + "/check", null, DepartureApi.Shown.class);
            show(terminal, now);
            return now.departure().open() == 0 ? 0 : 1;
        }
    }
}
