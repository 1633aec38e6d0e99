package tender.service.trial;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.credential.RevealSecret;
import tender.core.ike.IkeSettings;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Protocol;
import tender.core.openvpn.ClientSettings;
import tender.core.trial.IkeLadder;
import tender.core.trial.IkeQuestion;
import tender.core.trial.IkeSeen;
import tender.core.trial.Ladder;
import tender.core.trial.LogLine;
import tender.core.trial.Measured;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.ObservedSettings;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.Rung;
import tender.core.trial.TrialContext;
import tender.core.wire.MalformedException;
import tender.io.gateway.Capability;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.ManagementConnection;
import tender.io.names.NameService;
import tender.io.trial.IkeTrial;
import tender.io.trial.OpenVpnCalls;
import tender.service.device.Connections;
import tender.service.office.OfficeRecords;
import tender.service.profile.ProfileFiles;
import tender.service.refusal.Refused;
import tender.store.office.Gateways;

/**
 * Tries an OpenVPN or IKEv2 profile and judges it with what the records and the gateway's log say. Where the log has words on
 * the rung that failed, the trial is made once more, and only the lines that it brings count: others may have written the
 * rest.
 */
final class ProtocolTrial {
    private static final Logger LOG = LoggerFactory.getLogger(ProtocolTrial.class);
    private static final int LOG_LINES = 400;

    private final Clock clock;
    private final OfficeRecords records;
    private final Connections connections;
    private final NameService names;

    /** What came of it, what was measured where it was asked for, and what it showed of the listener's settings. */
    record Outcome(Ladder ladder, Optional<Measured> measured, Map<Attribute, String> observed) {}

    /** A trial that was made, to be judged with more or less known. */
    private record Made(
            Function<Optional<TrialContext>, Ladder> judge,
            Optional<Measured> measured,
            Map<Attribute, String> observed) {}

    private interface Trying {
        Made now();
    }

    ProtocolTrial(Clock clock, OfficeRecords records, Connections connections, NameService names) {
        this.clock = clock;
        this.records = records;
        this.connections = connections;
        this.names = names;
    }

    Outcome run(
            ProfileFiles.Newest tried,
            ProfileFiles.Typed typed,
            Gateways.Gateway gateway,
            Optional<IpAddress> insideHost,
            MeasurementOptions wanted,
            Consumer<Rung> entering) {
        Instant now = clock.instant();
        TrialRecords known = new TrialRecords(
                records.withoutProfiles(now), gateway.name(), tried.profile().listener());
        Optional<Listener> listener = known.listener();
        String text = tried.content().revealText(RevealSecret.TO_HANDSHAKE);
        boolean ike = listener.filter(l -> l.protocol() == Protocol.IKEV2).isPresent();
        Trying trying = ike
                ? () -> ike(ikeQuestion(text, typed, listener, insideHost, now), wanted, entering)
                : () -> openVpn(openVpnQuestions(text, typed, listener, insideHost, now), wanted, entering);
        Made made = trying.now();
        Ladder ladder = made.judge().apply(Optional.empty());
        if (ladder.isProven()) {
            return new Outcome(ladder, made.measured(), made.observed());
        }
        List<String> log = log(gateway);
        List<String> gained = List.of();
        Rung failed = ladder.failure().map(f -> f.rung()).orElse(Rung.ECHO);
        if (LogLine.read(log).stream().anyMatch(r -> r.meaning().rung() == failed)) {
            made = trying.now();
            gained = gained(log, log(gateway));
        }
        return new Outcome(
                made.judge().apply(Optional.of(known.circumstances(gained))), made.measured(), made.observed());
    }

    private static IkeQuestion ikeQuestion(
            String text,
            ProfileFiles.Typed typed,
            Optional<Listener> listener,
            Optional<IpAddress> insideHost,
            Instant now) {
        return IkeQuestion.of(
                text,
                typed.account()
                        .map(a -> new IkeSettings.Added(Optional.empty(), Optional.of(a.password())))
                        .orElse(IkeSettings.Added.NOTHING),
                listener.flatMap(l -> l.get(Attribute.INSIDE_ADDRESS)).map(IpAddress::parse),
                insideHost,
                now);
    }

    private static List<OpenVpnQuestion> openVpnQuestions(
            String text,
            ProfileFiles.Typed typed,
            Optional<Listener> listener,
            Optional<IpAddress> insideHost,
            Instant now) {
        return OpenVpnQuestion.all(
                text,
                new ClientSettings.Added(
                        typed.account().map(a -> new ClientSettings.Login(a.name(), a.password())),
                        typed.passphrase().map(p -> p.revealText(RevealSecret.TO_HANDSHAKE))),
                insideHost,
                listener.flatMap(l -> l.words(Attribute.SERVER_NAMES).stream().findFirst()),
                now);
    }

    private Made ike(IkeQuestion question, MeasurementOptions wanted, Consumer<Rung> entering) {
        IkeTrial trial = new IkeTrial(question, names, wanted, entering);
        IkeSeen seen = trial.run();
        return new Made(known -> IkeLadder.judge(question, seen, known), trial.measured(), ObservedSettings.of(seen));
    }

    private Made openVpn(List<OpenVpnQuestion> places, MeasurementOptions wanted, Consumer<Rung> entering) {
        OpenVpnCalls made = OpenVpnCalls.run(places, names, wanted, entering);
        return new Made(
                known -> OpenVpnLadder.judge(made.question(), made.seen(), known),
                made.measured(),
                ObservedSettings.of(made.seen()));
    }

    /** The lines that a log has after its end of before; all of them where it moved on further than is kept. */
    static List<String> gained(List<String> before, List<String> after) {
        if (before.isEmpty()) {
            return after;
        }
        int most = Math.min(before.size(), after.size());
        for (int kept = most; kept > 0; kept--) {
            boolean same = before.subList(before.size() - kept, before.size()).equals(after.subList(0, kept));
            if (same) {
                return after.subList(kept, after.size());
            }
        }
        return after;
    }

    private List<String> log(Gateways.Gateway gateway) {
        try (ManagementConnection session = connections.open(gateway.id())) {
            return session.capabilities().contains(Capability.LOG) ? session.log(LOG_LINES) : List.of();
        } catch (GatewayFailure | MalformedException | Refused e) {
            LOG.info("no log from {}: {}", gateway.name(), e.getMessage());
            return List.of();
        }
    }
}
