package tender.service.trial;

import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.credential.RevealSecret;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Protocol;
import tender.core.profile.ClientRules;
import tender.core.profile.WireGuardFile;
import tender.core.trial.Claims;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.Observation;
import tender.core.trial.ObservedSettings;
import tender.core.trial.Question;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;
import tender.core.wireguard.StatusDump;
import tender.io.gateway.GatewayFailure;
import tender.io.names.NameService;
import tender.io.trial.WireGuardTrial;
import tender.service.device.Connections;
import tender.service.office.OfficeRecords;
import tender.service.profile.Canaries;
import tender.service.profile.ProfileFiles;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.journal.By;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.trial.TrialDocuments;
import tender.store.trial.Trials;

/**
 * Tries a profile with its very file. Looks first whether its device is connected now: then the trial would move the
 * session, so the listener's canary is tried in its place and the trial says so. Where the gateway can be read, its files
 * and status settle what silence leaves open.
 */
final class TrialRunner {
    private static final Logger LOG = LoggerFactory.getLogger(TrialRunner.class);
    private static final int ECHOES = 20;

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final ProfileFiles files;
    private final Canaries canaries;
    private final Delivery delivery;
    private final NameService names;
    private final OfficeRecords records;
    private final Optional<IpAddress> outside;
    private final ProtocolTrial attempt;
    private final Probing probing;
    private final TrialRecorder recorder;
    private final Observing observing;
    private final LiveListener live;

    /** Takes note of what a trial showed of how a listener is set. */
    @FunctionalInterface
    public interface Observing {
        void saw(Listeners.Listener listener, Map<Attribute, String> values);
    }

    /** @param outside whom a vantage asks for the address that it is seen with; empty where nobody is to be asked */
    TrialRunner(
            Db db,
            Clock clock,
            Gateways gateways,
            ProfileFiles files,
            Canaries canaries,
            Delivery delivery,
            Connections connections,
            OfficeRecords records,
            NameService names,
            Optional<IpAddress> outside,
            Observing observing) {
        this.observing = observing;
        this.db = db;
        this.clock = clock;
        this.gateways = gateways;
        this.files = files;
        this.canaries = canaries;
        this.delivery = delivery;
        this.names = names;
        this.records = records;
        this.outside = outside;
        this.attempt = new ProtocolTrial(clock, records, connections, names);
        this.probing = new Probing(db, records, names);
        this.recorder = new TrialRecorder(db, clock, records);
        this.live = new LiveListener(db, clock, connections);
    }

    /** Makes the trial and keeps what it showed. */
    void run(Trials.Trial trial) {
        Listeners.Listener listener =
                db.inTransaction(tx -> Listeners.byId(tx, trial.listenerId())).orElseThrow();
        if (TrialKinds.isProbed(listener.protocol())) {
            recorder.probes(trial);
            Probing.Probed probed = probing.run(listener, clock.instant());
            recorder.end(
                    trial.id(), probed.ladder(), Claims.ofProbe(probed.ladder()), Optional.empty(), Optional.empty());
            observing.saw(listener, probed.observed());
            return;
        }
        ProfileFiles.Newest asked = files.triable(trial.profileId().orElseThrow());
        // of one that must not be let in, the very file is tried whatever its device does
        boolean connected = asked.profile().state() == ProfileState.READY && live.isConnected(asked.profile());
        ProfileFiles.Newest tried = connected ? canary(asked.profile()) : asked;
        recorder.runs(trial, asked, tried, connected);
        Gateways.Gateway gateway =
                db.inTransaction(tx -> gateways.byId(tx, listener.gatewayId())).orElseThrow();
        if (listener.protocol().equals(Protocol.WIREGUARD.word())) {
            observing.saw(listener, wireGuard(trial, tried, listener, gateway.insideHost()));
        } else {
            observing.saw(listener, others(trial, tried, gateway));
        }
    }

    /** Gives what the trial showed of the listener's settings. */
    private Map<Attribute, String> others(Trials.Trial trial, ProfileFiles.Newest tried, Gateways.Gateway gateway) {
        MeasurementOptions wanted = wanted(trial);
        ProtocolTrial.Outcome outcome = attempt.run(
                tried,
                files.typed(tried.profile()),
                gateway,
                gateway.insideHost(),
                wanted,
                rung -> recorder.at(trial.id(), rung));
        Claims claims = Claims.of(outcome.ladder(), gateway.insideHost(), wanted, outcome.measured())
                .refused(refusal(tried));
        recorder.end(trial.id(), outcome.ladder(), claims, Optional.empty(), outcome.measured());
        return outcome.observed();
    }

    private Map<Attribute, String> wireGuard(
            Trials.Trial trial,
            ProfileFiles.Newest tried,
            Listeners.Listener listener,
            Optional<IpAddress> insideHost) {
        MeasurementOptions wanted = wanted(trial);
        WireGuardFile file = WireGuardFile.read(tried.content().revealText(RevealSecret.TO_HANDSHAKE))
                .file();
        Question question = Question.of(file, listener.insideAddress(), insideHost);
        WireGuardTrial made = new WireGuardTrial(question, names, wanted, rung -> recorder.at(trial.id(), rung));
        Observation seen = made.run();
        Ladder ladder = Ladder.judge(question, seen, Optional.empty());
        if (!ladder.isProven()) {
            TrialRecords known =
                    new TrialRecords(records.withoutProfiles(clock.instant()), listener.gateway(), listener.name());
            ladder = Ladder.judge(
                    question, seen, live.evidence(question, listener), Optional.of(known.circumstances(List.of())));
        }
        Claims claims = Claims.of(ladder, insideHost, wanted, made.measured()).refused(refusal(tried));
        recorder.end(trial.id(), ladder, claims, received(tried.profile(), seen), made.measured());
        return ObservedSettings.of(seen);
    }

    private static Optional<ParseProblem> refusal(ProfileFiles.Newest tried) {
        return ClientRules.refusal(tried.content().revealText(RevealSecret.TO_HANDSHAKE));
    }

    /** Takes note of what a trial that was made elsewhere saw of a listener. */
    void saw(Listeners.Listener listener, Map<Attribute, String> values) {
        observing.saw(listener, values);
    }

    /** What a trial was asked to measure, from here or elsewhere. */
    MeasurementOptions wanted(Trials.Trial trial) {
        return trial.asked()
                .map(a -> new MeasurementOptions(
                        a.echoes(),
                        a.size(),
                        a.insideName().map(HostName::parse),
                        a.size() ? outside : Optional.empty(),
                        a.size()))
                .orElse(MeasurementOptions.NOTHING);
    }

    /** The gateway's count for the tried key after the trial, so that the watch can tell the trial from a session. */
    private Optional<Long> received(Profiles.Profile tried, Observation seen) {
        if (seen.handshake() != Observation.Handshake.ESTABLISHED) {
            return Optional.empty();
        }
        try {
            return live.peer(tried).map(StatusDump.Peer::received);
        } catch (GatewayFailure | MalformedException | Refused e) {
            LOG.info("{} cannot be asked after the trial: {}", tried.gateway(), e.getMessage());
            return Optional.empty();
        }
    }

    private ProfileFiles.Newest canary(Profiles.Profile profile) {
        Profiles.Profile canary = canaries.of(profile.listenerId(), By.tender(clock.instant()));
        delivery.now(profile.gatewayId());
        return files.newest(canary.id());
    }

    /** Everything that a trial can measure, as it is kept with an order. */
    static TrialDocuments.Asked measuring(boolean all, Optional<HostName> insideName) {
        return new TrialDocuments.Asked(all ? ECHOES : 0, all, insideName.map(HostName::text));
    }
}
