package tender.client.trial;

import java.net.UnknownHostException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ProblemCode;
import tender.api.TrialApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.RemoveCommand;
import tender.client.command.Terminal;
import tender.core.credential.RevealSecret;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.core.trial.Claims;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.ObservedSettings;
import tender.core.trial.ReachabilityProbe;
import tender.core.wire.MalformedException;
import tender.io.names.DnsNameService;
import tender.io.names.NameService;

/** Places that trials are made from. */
final class VantageCommands {
    private VantageCommands() {}

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description = "List the places that trials run from: the service and standing vantages.")
    static final class Ls extends ClientCommand {
        @Override
        protected int run() {
            List<TrialApi.Vantage> all = calls().list("/vantages", TrialApi.Vantage.class, 1_000);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("VANTAGE", "KIND", "LAST HEARD", "TRIALS"),
                        all.stream()
                                .map(v -> List.of(
                                        v.name(),
                                        v.kind(),
                                        v.heardAt().map(Terminal::ago).orElse(""),
                                        Long.toString(v.trials())))
                                .toList(),
                        "none yet; an owner adds one: tender operator add outpost --role vantage");
            }
            return 0;
        }
    }

    @Command(
            name = "remove",
            mixinStandardHelpOptions = true,
            description = "Remove a standing vantage that is used no more; its trials keep its name.",
            footer = {"", "  tender operator disable outpost", "  tender vantage remove outpost"})
    static final class Remove extends RemoveCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        protected String path(Calls calls) {
            return "/vantages/" + name;
        }
    }

    @Command(
            name = "run",
            mixinStandardHelpOptions = true,
            description = {
                "Run trials for the service from this machine until stopped. Needs no special rights on this machine.",
                "Sign in first as an operator with the role vantage; the vantage has that operator's name. Trials use canary profiles;"
                        + " nobody's own profile is sent here."
            },
            footer = {
                "",
                "  tender operator add outpost --role vantage        # once, as an owner",
                "  tender sign-in https://tender.skerrivane.example --name outpost",
                "  tender vantage run"
            })
    static final class Run extends ClientCommand {
        private static final Duration PAUSE = Duration.ofMillis(5_000);

        @Option(
                names = "--resolver",
                paramLabel = "ADDRESS:PORT",
                description = "The DNS server to ask. Default: the system's")
        Optional<String> resolver;

        @Option(names = "--once", description = "Run one trial and exit; exit code 1 if it was not proven.")
        boolean once;

        @Override
        protected int run() {
            Calls calls = calls();
            terminal.say("standing; trials come from the service. Stop with Ctrl-C.");
            while (true) {
                Optional<TrialApi.Task> task = next(calls);
                if (task.isEmpty()) {
                    continue;
                }
                Made made = tried(task.get());
                calls.post("/vantage/trials/" + task.get().trialId(), made.report(), null);
                terminal.print(task.get().subject() + ": " + made.claims().words());
                if (once) {
                    return made.claims().areShown() ? 0 : 1;
                }
            }
        }

        private Optional<TrialApi.Task> next(Calls calls) {
            try {
                return Optional.ofNullable(calls.post("/vantage/next", null, TrialApi.Handed.class))
                        .flatMap(TrialApi.Handed::task);
            } catch (CallFailure e) {
                if (e.problem().code().equals(ProblemCode.UNAVAILABLE.word()) && !once) {
                    terminal.say("the service does not answer; trying again");
                    Calls.pause(PAUSE);
                    return Optional.empty();
                }
                throw e;
            }
        }

        /** What came of a trial, and what is told of it. */
        private record Made(TrialApi.Report report, Claims claims) {}

        private Made tried(TrialApi.Task task) {
            try {
                NameService names = new DnsNameService(resolver.map(TrialRunCommand::socket));
                return task.probe().isPresent() ? probed(Probing.of(task.probe().get()), names) : withFile(task, names);
            } catch (UnknownHostException e) {
                throw CallFailure.of(
                        ProblemCode.MALFORMED, "this machine knows no name server; say one: --resolver ADDRESS:PORT");
            } catch (MalformedException e) {
                throw CallFailure.of(
                        ProblemCode.MALFORMED, "what the service handed out cannot be tried: " + e.getMessage());
            }
        }

        private static Made probed(ReachabilityProbe probe, NameService names) {
            Probing.Made made = Probing.run(probe, names);
            return new Made(
                    new TrialApi.Report(
                            Optional.empty(),
                            Optional.empty(),
                            made.ladder().rungs().stream().map(Reporting::rung).toList(),
                            Optional.empty(),
                            Optional.of(ObservedSettings.words(made.observed()))),
                    Claims.ofProbe(made.ladder()));
        }

        private static Made withFile(TrialApi.Task task, NameService names) {
            TextTrial trial = new TextTrial(
                    task.content()
                            .orElseThrow(() ->
                                    new MalformedException("task", "content", "a file or what to probe is missing"))
                            .revealText(RevealSecret.TO_HANDSHAKE),
                    task.insideHost().map(IpAddress::parse),
                    names,
                    new ClientSettings.Added(
                            task.password()
                                    .map(p ->
                                            new ClientSettings.Login(task.user().orElse(""), p)),
                            Optional.empty()),
                    new MeasurementOptions(
                            task.echoes(),
                            task.size(),
                            task.insideName().map(HostName::parse),
                            task.outside().map(IpAddress::parse),
                            task.size()));
            TextTrial.Outcome outcome = trial.run();
            return new Made(Reporting.of(trial, outcome, Optional.empty()), trial.claims(outcome));
        }
    }
}
