package tender.client.change;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.CertificateApi;
import tender.api.ChangeApi;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.Times;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.DeviceChange;
import tender.core.office.FilterRule;
import tender.core.office.FirewallChange;
import tender.core.office.Forward;
import tender.core.office.ListenerChange;
import tender.core.office.Network;
import tender.core.office.Protocol.PortSpec;
import tender.core.wire.MalformedException;

@Command(
        name = "apply",
        mixinStandardHelpOptions = true,
        description = {
            "Change a device's settings. Tender shows the impact, takes a backup, writes, reloads or restarts what has to,"
                    + " reads the device again and runs a trial. If a step fails, Tender rolls the change back.",
            "At a gateway that Tender does not write, the change becomes an instruction for a person."
        },
        footer = {
            "",
            "  tender change apply pier2 --listener wg0 --set port=443 --dry-run",
            "  tender change apply pier2 --listener wg0 --new-listener wg0-443 --set port=443 --remove-when-unused wg0",
            "  tender change apply slip-front --forward udp:1194=10.20.2.5:1194",
            "  tender change apply pier1 --allow udp:51821 --revert-after 30m",
            "  tender change apply orrin-fw --move-rule 5:3",
            "  tender change apply orrin-fw --listener staff --renew",
            "  tender change apply orrin-fw --network guests=10.97.0.0/24,10.97.0.100-10.97.0.199"
        })
final class ChangeApplyCommand extends ClientCommand {
    @Parameters(paramLabel = "GATEWAY")
    String gateway;

    @Option(names = "--listener", description = "The listener that --set, --new-listener and --remove are about.")
    Optional<String> listener;

    @Option(names = "--set", paramLabel = "SETTING=VALUE", description = "tender explain settings lists them.")
    Map<String, String> set = Map.of();

    @Option(
            names = "--new-listener",
            description = "Add a listener of this name with the settings of --listener and --set.")
    Optional<String> beside;

    @Option(names = "--remove", description = "Remove --listener.")
    boolean remove;

    @Option(names = "--forward", paramLabel = "udp:PORT=HOST:PORT", description = "Forward a port to an inside host.")
    List<String> forwards = List.of();

    @Option(names = "--no-forward", paramLabel = "udp:PORT", description = "Remove the forward of this port.")
    List<String> noForwards = List.of();

    @Option(
            names = "--allow",
            paramLabel = "udp:PORT[@N]",
            description = "Allow a port in the firewall, as rule N. Default: 1")
    List<String> allow = List.of();

    @Option(names = "--drop-rule", paramLabel = "N")
    List<Integer> dropRules = List.of();

    @Option(names = "--move-rule", paramLabel = "FROM:TO")
    List<String> moveRules = List.of();

    @Option(
            names = "--demote",
            paramLabel = "ACCOUNT",
            description = "Remove this account's administrator rights; it keeps its VPN access.")
    List<String> demote = List.of();

    @Option(
            names = "--network",
            paramLabel = "NAME=CIDR[,FIRST-LAST][,HOST@ADDRESS…]",
            description = "An inside network with its pool and reserved addresses.")
    List<String> networks = List.of();

    @Option(names = "--zone", description = "The device's time zone, such as Europe/Oslo.")
    Optional<String> zone;

    @Option(
            names = "--renew",
            description = "Renew the certificate of --listener from its present authority, for 13 months.")
    boolean renew;

    @Option(names = "--renew-revocations", description = "Renew the revocation list of --listener.")
    boolean renewRevocations;

    @Option(names = "--set-clock", description = "Set the device's clock to Tender's.")
    boolean clock;

    @Option(names = "--reload", description = "Reload the device's configuration.")
    boolean reload;

    @Option(
            names = "--revert-after",
            paramLabel = "TIME",
            description = "Roll back automatically after 90s, 30m or 4h.")
    Optional<String> during;

    @Option(names = "--at", paramLabel = "TIME", description = "When, such as \"tomorrow 3:00\". Default: now")
    Optional<String> at;

    @Option(names = "--remove-when-unused", description = "Remove this listener when no profile uses it any more.")
    Optional<String> removeWhenUnused;

    @Option(
            names = "--remove-at",
            paramLabel = "TIME",
            description = "Remove it at this time even if profiles still use it.")
    Optional<String> removeAt;

    @Option(
            names = "--why",
            paramLabel = "TEXT",
            description = "What it is for. Whoever has to make it by hand reads this.")
    Optional<String> why;

    @Option(
            names = "--into",
            paramLabel = "FILE",
            description = "Add the change to a set in this file and change nothing now; see tender change apply-set.")
    Optional<Path> into;

    @Option(names = "--dry-run", description = "Show what would change; change nothing.")
    boolean dryRun;

    @Option(names = "--yes", description = "Do not ask.")
    boolean yes;

    @Override
    protected int run() {
        Calls calls = calls();
        OfficeApi.Gateway g = Found.gateway(calls, gateway);
        if (into.isPresent()) {
            return addTo(into.get(), calls);
        }
        ChangeApi.Order order = new ChangeApi.Order(
                changes(calls),
                during.map(ChangeApplyCommand::seconds),
                at.map(Times::read),
                removeWhenUnused,
                removeAt.map(Times::read),
                why);
        ChangeApi.Preview preview =
                calls.post("/gateways/" + g.id() + "/changes/preview", order, ChangeApi.Preview.class);
        if (dryRun || !terminal.json) {
            ChangeCommands.show(terminal, preview);
        }
        if (dryRun) {
            terminal.say("nothing was changed");
            return 0;
        }
        if (!terminal.confirmed("Make this change at " + gateway + "?", yes)) {
            return 1;
        }
        return ChangeCommands.await(
                terminal, calls, calls.post("/gateways/" + g.id() + "/changes", order, ChangeApi.Ordered.class));
    }

    private int addTo(Path file, Calls calls) {
        if (during.isPresent() || at.isPresent() || removeWhenUnused.isPresent() || removeAt.isPresent()) {
            throw CallFailure.of(
                    ProblemCode.MALFORMED,
                    "changes made together are made at once and for good: leave --for, --at,"
                            + " --remove-when-unused and --remove-at out");
        }
        ChangeSetCommands.add(file, gateway, changes(calls));
        terminal.say("added to " + file + "; nothing was changed. Do: tender change apply-set " + file);
        return 0;
    }

    private List<Change> changes(Calls calls) {
        List<Change> out = new ArrayList<>();
        try {
            listeners(() -> calls.get("/lifetimes", CertificateApi.Lifetimes.class), out);
            forwards.forEach(t -> out.add(new FirewallChange.PutForward(forward(t))));
            noForwards.forEach(t -> out.add(new FirewallChange.DropForward(port(t))));
            allow.forEach(t -> out.add(allowed(t)));
            dropRules.forEach(n -> out.add(new FirewallChange.DropRule(n)));
            moveRules.forEach(t -> {
                String[] numbers = t.split(":");
                if (!t.matches("[1-9][0-9]{0,4}:[1-9][0-9]{0,4}")) {
                    throw new MalformedException("rule", "--move-rule", "is written FROM:TO");
                }
                out.add(new FirewallChange.MoveRule(Integer.parseInt(numbers[0]), Integer.parseInt(numbers[1])));
            });
            demote.forEach(a -> out.add(new DeviceChange.Demote(a)));
            networks.forEach(t -> out.add(new DeviceChange.PutNetwork(network(t))));
            zone.ifPresent(z -> out.add(new DeviceChange.SetZone(z)));
        } catch (MalformedException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, e.getMessage());
        }
        if (clock) {
            out.add(new DeviceChange.SetClock());
        }
        if (reload) {
            out.add(new DeviceChange.Reload());
        }
        if (out.isEmpty()) {
            throw CallFailure.of(ProblemCode.MALFORMED, "say what to change; tender change apply --help lists it");
        }
        return out;
    }

    private static Instant inDays(int days) {
        return Instant.now().truncatedTo(ChronoUnit.DAYS).plus(Duration.ofDays(days));
    }

    private void listeners(Supplier<CertificateApi.Lifetimes> lifetimes, List<Change> out) {
        Map<Attribute, String> values = new EnumMap<>(Attribute.class);
        set.forEach((word, value) -> values.put(Attribute.parse(word), value));
        boolean about = beside.isPresent() || remove || renew || renewRevocations || !values.isEmpty();
        if (about && listener.isEmpty()) {
            throw new MalformedException(
                    "listener", "--listener", "is needed with --set, --new-listener, --remove and --renew");
        }
        if (renew) {
            out.add(new ListenerChange.RenewCertificate(
                    listener.get(),
                    List.of(),
                    ListenerChange.RenewCertificate.SOUND_KEY_BITS,
                    inDays(lifetimes.get().renewedListenerDays())));
        }
        if (renewRevocations) {
            out.add(new ListenerChange.RenewRevocations(
                    listener.get(), inDays(lifetimes.get().revocationListDays())));
        }
        if (beside.isPresent()) {
            out.add(new ListenerChange.AddListener(listener.get(), beside.get(), values));
        } else if (!values.isEmpty()) {
            out.add(new ListenerChange.SetListener(listener.get(), values));
        }
        if (remove) {
            out.add(new ListenerChange.RemoveListener(listener.get()));
        }
    }

    private static Network network(String text) {
        int equals = text.indexOf('=');
        String[] parts = text.substring(equals + 1).split("\\s*,\\s*");
        if (equals < 1) {
            throw new MalformedException("network", "--network", "is written NAME=CIDR,FIRST-LAST,HOST@ADDRESS");
        }
        Network out = Network.plain(text.substring(0, equals), Cidr.parse(parts[0]));
        for (String part : List.of(parts).subList(1, parts.length)) {
            int at = part.indexOf('@');
            out = at < 0
                    ? out.withPool(Network.Pool.parse(part))
                    : out.withReserved(part.substring(0, at), IpAddress.parse(part.substring(at + 1)));
        }
        return out;
    }

    private static PortSpec port(String text) {
        int colon = text.indexOf(':');
        String transport = colon < 0 ? "" : text.substring(0, colon);
        if (!transport.equals("udp") && !transport.equals("tcp")) {
            throw new MalformedException("port", "", "a port is written udp:PORT or tcp:PORT");
        }
        return new PortSpec(
                transport.equals("udp") ? Transport.UDP : Transport.TCP, Port.parse(text.substring(colon + 1)));
    }

    private static Forward forward(String text) {
        int equals = text.indexOf('=');
        int colon = text.lastIndexOf(':');
        if (equals < 0 || colon < equals) {
            throw new MalformedException("forward", "--forward", "is written udp:PORT=HOST:PORT");
        }
        PortSpec port = port(text.substring(0, equals));
        return new Forward(
                port.transport(),
                port.port(),
                IpAddress.parse(text.substring(equals + 1, colon)),
                Port.parse(text.substring(colon + 1)),
                "");
    }

    private static Change allowed(String text) {
        int at = text.indexOf('@');
        PortSpec port = port(at < 0 ? text : text.substring(0, at));
        int number = at < 0 ? 1 : Integer.parseInt(text.substring(at + 1));
        return new FirewallChange.PutRule(number, FilterRule.allowPort(port, "by Tender"));
    }

    private static int seconds(String text) {
        if (!text.matches("[1-9][0-9]{0,5}[smh]")) {
            throw CallFailure.of(ProblemCode.MALFORMED, "--revert-after is written 90s, 30m or 4h");
        }
        int number = Integer.parseInt(text.substring(0, text.length() - 1));
        char unit = text.charAt(text.length() - 1);
        return (int) (unit == 's'
                        ? Duration.ofSeconds(number)
                        : unit == 'm' ? Duration.ofMinutes(number) : Duration.ofHours(number))
                .toSeconds();
    }
}
