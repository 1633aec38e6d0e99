package tender.client.trial;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.UnknownHostException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ProblemCode;
import tender.api.TrialApi;
import tender.client.command.Account;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.core.credential.RevealSecret;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.openvpn.ClientSettings;
import tender.core.trial.Claims;
import tender.core.trial.IkeQuestion;
import tender.core.trial.Ladder;
import tender.core.trial.Measured;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.ReachabilityProbe;
import tender.core.trial.Result;
import tender.core.trial.RungResult;
import tender.core.wire.MalformedException;
import tender.core.wire.Sha256;
import tender.io.names.DnsNameService;
import tender.io.names.NameService;
import tender.io.trial.OwnNetworks;

@Command(
        name = "run",
        mixinStandardHelpOptions = true,
        description = {
            "Run a trial of a profile or listener from the service, or of a file from this machine. Exit code 0 if proven, 1 if not.",
            "L2TP/IPsec and TLS listeners accept only their own clients: Tender probes whether they answer and who they say they are."
        },
        footer = {
            "",
            "  tender trial run mara-phone-pier2",
            "  tender trial run --gateway orrin-fw --listener staff --from outpost",
            "  tender trial run --tls portal.skerrivane.example:8443",
            "  tender trial run mara-pier2-r1.conf --inside-host 10.20.4.20",
            "  tender trial run ebba-orrin-r1.ovpn --user ebba",
            "  tender trial run ebba-orrin-r1.ovpn --inside-host 10.20.0.20 --measure --inside-name files.skerrivane.example"
        })
public final class TrialRunCommand extends ClientCommand {
    static final class What {
        @Parameters(
                paramLabel = "PROFILE|FILE",
                description = "A profile's label, tried from the service; or a file on this machine.")
        String label;

        @Option(names = "--file", description = "A file on this machine; the service is not asked.")
        Path file;

        @Option(names = "--gateway", description = "Try a listener of this gateway with its canary profile.")
        String gateway;

        @Option(
                names = "--tls",
                paramLabel = "HOST[:PORT]",
                description = "From this machine: versions, certificate and name of a TLS listener.")
        String tls;

        @Option(
                names = "--l2tp",
                paramLabel = "HOST",
                description = "From this machine: whether an L2TP/IPsec listener answers.")
        String l2tp;
    }

    @ArgGroup(multiplicity = "1")
    What what;

    @Option(names = "--listener", description = "With --gateway: which listener, if it has several.")
    Optional<String> listener;

    @Option(names = "--user", description = "With a file that asks for a name and password: the name.")
    Optional<String> user;

    @Option(
            names = "--password-fd",
            paramLabel = "N",
            description = "Read the password from this file descriptor instead of asking.")
    Optional<Integer> passwordFd;

    @Option(
            names = "--code",
            description = {
                "With a file: ask for a one-time code and send it as the file or the server requires.",
                "If the code belongs after the password, type it there."
            })
    boolean code;

    @Option(
            names = "--code-fd",
            paramLabel = "N",
            description = "Read the one-time code from this file descriptor instead of asking.")
    Optional<Integer> codeFd;

    @Option(
            names = "--passphrase-fd",
            paramLabel = "N",
            description = "Read the passphrase of the file's key from this file descriptor.")
    Optional<Integer> passphraseFd;

    @Option(names = "--inside-host", description = "With a file: a host inside that should answer.")
    Optional<String> insideHost;

    @Option(
            names = "--resolver",
            paramLabel = "ADDRESS:PORT",
            description = "With --file: the DNS server to ask. Default: the system's")
    Optional<String> resolver;

    @Option(
            names = "--from",
            paramLabel = "VANTAGE",
            description = "With a profile: try its listener from this vantage with a canary; see tender vantage list")
    Optional<String> from;

    @Option(names = "--no-report", description = "With a file: do not report the result to the service.")
    boolean noReport;

    @Option(
            names = "--measure",
            description = {
                "Measure loss and round trip over 20 echoes, the largest packet that passes,",
                "and what passes to a host that gives back what it gets (UDP echo, RFC 862)."
            })
    boolean measure;

    @Option(
            names = "--inside-name",
            paramLabel = "NAME",
            description = "Resolve this name at the DNS server inside, through the tunnel.")
    Optional<String> insideName;

    @Option(
            names = "--outside",
            paramLabel = "ADDRESS",
            description = {
                "With a file: ask this STUN server (RFC 8489) which address it sees, without the tunnel and through it,",
                "which proves a full or a split tunnel. The service asks the one of the setting trial.outside."
            })
    Optional<String> outside;

    @Override
    protected int run() {
        if (what.tls != null || what.l2tp != null) {
            return probed(what.tls != null ? Probing.tls(what.tls) : Probing.l2tp(what.l2tp));
        }
        if (what.label != null && Files.isRegularFile(Path.of(what.label))) {
            what.file = Path.of(what.label);
        } else if (what.label != null && what.label.matches(TrialCommands.FILE_NAME)) {
            throw CallFailure.of(ProblemCode.MALFORMED, "there is no such file: " + what.label);
        }
        return what.file == null ? fromService() : fromHere();
    }

    private int probed(ReachabilityProbe probe) {
        Ladder ladder = Probing.run(probe, names()).ladder();
        Claims claims = Claims.ofProbe(ladder);
        TrialCommands.show(
                terminal,
                render(
                        probe.at().host() + ":" + probe.at().port(),
                        new Shown(true, claims, "an answer to a stranger", Optional.empty()),
                        ladder,
                        Optional.empty()));
        return claims.areShown() ? 0 : 1;
    }

    private int fromService() {
        Calls calls = calls();
        TrialApi.Trial t = calls.post(
                "/trials",
                new TrialApi.Start(
                        Optional.ofNullable(what.label),
                        measure,
                        insideName,
                        from,
                        Optional.ofNullable(what.gateway),
                        listener),
                TrialApi.Trial.class);
        String told = "";
        while (!t.state().equals("ended") && !t.state().equals("failed")) {
            String now = t.rungNow().orElse("");
            if (terminal.isTerminal() && !now.equals(told)) {
                terminal.say("  … " + now);
                told = now;
            }
            Calls.pause();
            t = calls.get("/trials/" + t.id(), TrialApi.Trial.class);
        }
        TrialCommands.show(terminal, t);
        return t.proven().orElse(false) ? 0 : 1;
    }

    private int fromHere() {
        String text = FileTrial.whole(what.file);
        TextTrial trial = new TextTrial(text, insideHost.map(IpAddress::parse), names(), added(text), wanted());
        TextTrial.Outcome outcome = trial.run();
        Claims claims = trial.claims(outcome);
        TrialCommands.show(
                terminal,
                render(
                        what.file.getFileName().toString(),
                        new Shown(
                                false, claims, "this very file", OwnNetworks.clash(OwnNetworks.now(), outcome.reach())),
                        outcome.ladder(),
                        outcome.measured()));
        if (!noReport && Account.load().isPresent()) {
            report(trial, outcome);
        }
        return claims.areShown() ? 0 : 1;
    }

    /** A service that does not answer is no reason to fail: the trial was made here. */
    private void report(TextTrial trial, TextTrial.Outcome outcome) {
        try {
            TrialApi.Report told = Reporting.of(trial, outcome, Optional.of(Sha256.hex(FileTrial.read(what.file))));
            TrialApi.Reported answer = calls().post("/trials/reported", told, TrialApi.Reported.class);
            answer.note().ifPresent(note -> terminal.print("  note: " + note));
            terminal.say(
                    answer.trialId().isPresent() ? "told to the service" : "not told: the service knows no such file");
        } catch (CallFailure e) {
            terminal.say("not told to the service: " + e.getMessage());
        }
    }

    private MeasurementOptions wanted() {
        return new MeasurementOptions(
                measure ? TrialCommands.ECHOES : 0,
                measure,
                insideName.map(HostName::parse),
                outside.map(IpAddress::parse),
                measure);
    }

    private NameService names() {
        try {
            return new DnsNameService(resolver.map(TrialRunCommand::socket));
        } catch (UnknownHostException e) {
            throw CallFailure.of(
                    ProblemCode.MALFORMED, "this machine knows no name server; say one: --resolver ADDRESS:PORT");
        }
    }

    private ClientSettings.Added added(String text) {
        boolean canAsk = passwordFd.isPresent() || System.console() != null;
        return new ClientSettings.Added(
                user.or(() -> Optional.of("").filter(x -> canAsk && IkeQuestion.asksPassword(text)))
                        .map(this::login),
                passphraseFd.map(
                        fd -> terminal.secret("passphrase", Optional.of(fd)).revealText(RevealSecret.TO_HANDSHAKE)));
    }

    /** @param name empty where the file itself says it */
    private ClientSettings.Login login(String name) {
        return new ClientSettings.Login(
                name,
                terminal.secret("password", passwordFd),
                code || codeFd.isPresent() ? Optional.of(terminal.secret("one-time code", codeFd)) : Optional.empty());
    }

    /** What is said of a trial made here. */
    private record Shown(boolean probed, Claims claims, String restsOn, Optional<String> note) {}

    private static TrialApi.Trial render(String name, Shown shown, Ladder ladder, Optional<Measured> measured) {
        return new TrialApi.Trial(
                "",
                name,
                Optional.empty(),
                "",
                "machine at hand",
                name,
                shown.restsOn(),
                "ended",
                Optional.empty(),
                Optional.of(shown.claims().areShown()),
                Optional.of(Result.of(
                                shown.probed(),
                                shown.claims().areShown(),
                                ladder.failure().map(RungResult::rung))
                        .label()),
                shown.claims().words(),
                Reporting.claims(shown.claims()),
                shown.note(),
                ladder.rungs().stream().map(Reporting::rung).toList(),
                measured.map(TrialApi.Measured::of),
                java.time.Instant.now(),
                Optional.empty());
    }

    /** @throws CallFailure where it is not written ADDRESS:PORT */
    public static InetSocketAddress socket(String text) {
        int colon = text.lastIndexOf(':');
        try {
            IpAddress address = IpAddress.parse(text.substring(0, Math.max(0, colon)));
            return new InetSocketAddress(
                    InetAddress.getByAddress(address.toBytes()),
                    Port.parse(text.substring(colon + 1)).number());
        } catch (IOException | MalformedException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "--resolver is written ADDRESS:PORT");
        }
    }
}
