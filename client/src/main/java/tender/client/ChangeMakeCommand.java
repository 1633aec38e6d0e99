package tender.client;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeParseException;
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
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.FilterRule;
import tender.core.office.Forward;
import tender.core.office.Network;
import tender.core.office.Protocol.Door;
import tender.core.wire.MalformedException;

@Command(
        name = "make",
        mixinStandardHelpOptions = true,
        description = {
            "Change a device's settings: its impact is shown first; then backup, write, start anew what has to, read"
                    + " again, and try. What fails is put back as it was."
        },
        footer = {
            "",
            "  tender change make pier2 --listener wg0 --set port=443 --dry-run",
            "  tender change make pier2 --listener wg0 --beside wg0-443 --set port=443 --retires wg0",
            "  tender change make slip-front --forward udp:1194=10.20.2.5:1194",
            "  tender change make pier1 --allow udp:51821 --for 30m",
            "  tender change make orrin-fw --move-rule 5:3",
            "  tender change make orrin-fw --listener staff --renew",
            "  tender change make orrin-fw --network guests=10.97.0.0/24,10.97.0.100-10.97.0.199"
        })
final class ChangeMakeCommand extends Verb {
    @Parameters(paramLabel = "GATEWAY")
    String gateway;

    @Option(names = "--listener", description = "The listener that --set, --beside and --retire are about.")
    Optional<String> listener;

    @Option(names = "--set", paramLabel = "SETTING=VALUE", description = "tender explain settings lists them.")
    Map<String, String> set = Map.of();

    @Option(names = "--beside", description = "Put another listener of this name beside it, with the settings.")
    Optional<String> beside;

    @Option(names = "--retire", description = "The listener goes.")
    boolean retire;

    @Option(names = "--forward", paramLabel = "udp:PORT=HOST:PORT", description = "Pass a door on to an inside host.")
    List<String> forwards = List.of();

    @Option(names = "--no-forward", paramLabel = "udp:PORT", description = "Pass that door on no more.")
    List<String> noForwards = List.of();

    @Option(names = "--allow", paramLabel = "udp:PORT[@N]", description = "Let a door in, as rule N. Default: 1")
    List<String> allow = List.of();

    @Option(names = "--drop-rule", paramLabel = "N")
    List<Integer> dropRules = List.of();

    @Option(names = "--move-rule", paramLabel = "FROM:TO")
    List<String> moveRules = List.of();

    @Option(names = "--demote", paramLabel = "ACCOUNT", description = "It may use the tunnel alone.")
    List<String> demote = List.of();

    @Option(
            names = "--network",
            paramLabel = "NAME=CIDR[,FIRST-LAST][,HOST@ADDRESS…]",
            description = "An inside network with its pool and fixed addresses.")
    List<String> networks = List.of();

    @Option(names = "--zone", description = "The device's time zone, such as Europe/Oslo.")
    Optional<String> zone;

    @Option(
            names = "--renew",
            description = "A new certificate for --listener from the authority it has, for a year and a month.")
    boolean renew;

    @Option(names = "--renew-revocations", description = "Sign the revocation list of --listener anew.")
    boolean renewRevocations;

    @Option(names = "--set-clock", description = "Set the device's clock.")
    boolean clock;

    @Option(names = "--take-up", description = "Let the device take up what is written.")
    boolean takeUp;

    @Option(names = "--for", paramLabel = "TIME", description = "Return by itself after 90s, 30m or 4h.")
    Optional<String> during;

    @Option(names = "--at", paramLabel = "TIME", description = "When, such as 2026-11-24T03:00:00Z. Default: now")
    Optional<String> at;

    @Option(names = "--retires", description = "This listener goes when its last holder has moved.")
    Optional<String> retires;

    @Option(names = "--retire-on", paramLabel = "TIME", description = "… or at this time, whoever is left.")
    Optional<String> retireOn;

    @Option(
            names = "--into",
            paramLabel = "FILE",
            description = "Make it together with changes of other gateways: add it to the file, change nothing now.")
    Optional<Path> into;

    @Option(names = "--dry-run", description = "Say what it would do; change nothing.")
    boolean dryRun;

    @Option(names = "--yes", description = "Do not ask.")
    boolean yes;

    @Override
    int run() {
        Calls calls = calls();
        OfficeApi.Gateway g = GatewayCommands.find(calls, gateway);
        if (into.isPresent()) {
            return addTo(into.get(), calls);
        }
        ChangeApi.Order order = new ChangeApi.Order(
                changes(calls),
                during.map(ChangeMakeCommand::seconds),
                at.map(ChangeMakeCommand::time),
                retires,
                retireOn.map(ChangeMakeCommand::time));
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
        if (during.isPresent() || at.isPresent() || retires.isPresent() || retireOn.isPresent()) {
            throw CallFailure.of(
                    ProblemCode.MALFORMED,
                    "changes made together are made at once and for good: leave --for, --at,"
                            + " --retires and --retire-on out");
        }
        ChangeSetCommands.add(file, gateway, changes(calls));
        terminal.say("added to " + file + "; nothing was changed. Do: tender change together " + file);
        return 0;
    }

    private List<Change> changes(Calls calls) {
        List<Change> out = new ArrayList<>();
        try {
            listeners(() -> calls.get("/lifetimes", CertificateApi.Lifetimes.class), out);
            forwards.forEach(t -> out.add(new Change.PutForward(forward(t))));
            noForwards.forEach(t -> out.add(new Change.DropForward(door(t))));
            allow.forEach(t -> out.add(allowed(t)));
            dropRules.forEach(n -> out.add(new Change.DropRule(n)));
            moveRules.forEach(t -> {
                String[] numbers = t.split(":");
                if (!t.matches("[1-9][0-9]{0,4}:[1-9][0-9]{0,4}")) {
                    throw new MalformedException("rule", "--move-rule", "is written FROM:TO");
                }
                out.add(new Change.MoveRule(Integer.parseInt(numbers[0]), Integer.parseInt(numbers[1])));
            });
            demote.forEach(a -> out.add(new Change.Demote(a)));
            networks.forEach(t -> out.add(new Change.PutNetwork(network(t))));
            zone.ifPresent(z -> out.add(new Change.SetZone(z)));
        } catch (MalformedException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, e.getMessage());
        }
        if (clock) {
            out.add(new Change.SetClock());
        }
        if (takeUp) {
            out.add(new Change.TakeUp());
        }
        if (out.isEmpty()) {
            throw CallFailure.of(ProblemCode.MALFORMED, "say what to change; tender change make --help lists it");
        }
        return out;
    }

    private static Instant inDays(int days) {
        return Instant.now().truncatedTo(ChronoUnit.DAYS).plus(Duration.ofDays(days));
    }

    private void listeners(Supplier<CertificateApi.Lifetimes> lifetimes, List<Change> out) {
        Map<Attribute, String> values = new EnumMap<>(Attribute.class);
        set.forEach((word, value) -> values.put(Attribute.parse(word), value));
        boolean about = beside.isPresent() || retire || renew || renewRevocations || !values.isEmpty();
        if (about && listener.isEmpty()) {
            throw new MalformedException(
                    "listener", "--listener", "is needed with --set, --beside, --retire and --renew");
        }
        if (renew) {
            out.add(new Change.RenewCertificate(
                    listener.get(),
                    List.of(),
                    Change.RenewCertificate.SOUND_KEY_BITS,
                    inDays(lifetimes.get().renewedListenerDays())));
        }
        if (renewRevocations) {
            out.add(new Change.RenewRevocations(
                    listener.get(), inDays(lifetimes.get().revocationListDays())));
        }
        if (beside.isPresent()) {
            out.add(new Change.AddBeside(listener.get(), beside.get(), values));
        } else if (!values.isEmpty()) {
            out.add(new Change.SetListener(listener.get(), values));
        }
        if (retire) {
            out.add(new Change.Retire(listener.get()));
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
                    : out.withFixed(part.substring(0, at), IpAddress.parse(part.substring(at + 1)));
        }
        return out;
    }

    private static Door door(String text) {
        int colon = text.indexOf(':');
        String transport = colon < 0 ? "" : text.substring(0, colon);
        if (!transport.equals("udp") && !transport.equals("tcp")) {
            throw new MalformedException("door", "", "a door is written udp:PORT or tcp:PORT");
        }
        return new Door(transport.equals("udp") ? Transport.UDP : Transport.TCP, Port.parse(text.substring(colon + 1)));
    }

    private static Forward forward(String text) {
        int equals = text.indexOf('=');
        int colon = text.lastIndexOf(':');
        if (equals < 0 || colon < equals) {
            throw new MalformedException("forward", "--forward", "is written udp:PORT=HOST:PORT");
        }
        Door door = door(text.substring(0, equals));
        return new Forward(
                door.transport(),
                door.port(),
                IpAddress.parse(text.substring(equals + 1, colon)),
                Port.parse(text.substring(colon + 1)),
                "");
    }

    private static Change allowed(String text) {
        int at = text.indexOf('@');
        Door door = door(at < 0 ? text : text.substring(0, at));
        int number = at < 0 ? 1 : Integer.parseInt(text.substring(at + 1));
        return new Change.PutRule(number, FilterRule.allowDoor(door, "by Tender"));
    }

    private static int seconds(String text) {
        if (!text.matches("[1-9][0-9]{0,5}[smh]")) {
            throw CallFailure.of(ProblemCode.MALFORMED, "--for is written 90s, 30m or 4h");
        }
        int number = Integer.parseInt(text.substring(0, text.length() - 1));
        char unit = text.charAt(text.length() - 1);
        return (int) (unit == 's'
                        ? Duration.ofSeconds(number)
                        : unit == 'm' ? Duration.ofMinutes(number) : Duration.ofHours(number))
                .toSeconds();
    }

    static Instant time(String text) {
        try {
            return Instant.parse(text);
        } catch (DateTimeParseException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "a time is written 2026-11-24T03:00:00Z");
        }
    }
}
