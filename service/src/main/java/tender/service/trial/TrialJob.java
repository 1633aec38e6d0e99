package tender.service.trial;

import com.fasterxml.jackson.core.type.TypeReference;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.api.ProblemCode;
import tender.api.TrialApi;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.office.Protocol;
import tender.core.profile.ClientRules;
import tender.core.profile.WireGuardFile;
import tender.core.trial.Claims;
import tender.core.trial.GatewayEvidence;
import tender.core.trial.Knock;
import tender.core.trial.Ladder;
import tender.core.trial.Observation;
import tender.core.trial.Question;
import tender.core.trial.Result;
import tender.core.trial.Rung;
import tender.core.trial.Wanted;
import tender.core.wire.MalformedException;
import tender.core.wire.Problem;
import tender.core.wireguard.StatusDump;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.ManagementConnection;
import tender.io.names.NameService;
import tender.io.trial.WireGuardTrial;
import tender.service.device.Connections;
import tender.service.http.ApiFailure;
import tender.service.http.Json;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.office.OfficeRecords;
import tender.service.profile.Canaries;
import tender.service.profile.Issuing;
import tender.service.session.OwnTraces;
import tender.service.session.Watch;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.job.Jobs;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.Profiles;
import tender.store.trial.Trials;

/**
 * Tries a profile with its very file. Looks first whether its device is connected now: then the trial would move the
 * session, so the listener's canary is tried in its place and the trial says so. Where the gateway can be read, its files
 * and status settle what silence leaves open.
 */
public final class TrialJob implements JobKind {
    public static final String NAME = "trial";
    private static final Logger LOG = LoggerFactory.getLogger(TrialJob.class);
    private static final int ECHOES = 20;
    private static final int ROUND_ECHOES = 5;
    private static final int KEPT_OF_ROUNDS = 50;
    private static final String KNOCK = "an answer to a stranger; nobody's account was used";

    /** Comes back when what the records want at a gateway is in force there. */
    @FunctionalInterface
    public interface Delivery {
        void now(UUID gatewayId);
    }

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final Issuing issuing;
    private final Canaries canaries;
    private final Delivery delivery;
    private final Connections connections;
    private final NameService names;
    private final OfficeRecords records;
    private final Optional<IpAddress> outside;
    private final Attempt attempt;
    private final Knocking knocking;
    private final TrialRecorder recorder;

    public TrialJob(
            Db db,
            Clock clock,
            Gateways gateways,
            Issuing issuing,
            Canaries canaries,
            Delivery delivery,
            Connections connections,
            OfficeRecords records,
            NameService names,
            Optional<IpAddress> outside) {
        this.db = db;
        this.clock = clock;
        this.gateways = gateways;
        this.issuing = issuing;
        this.canaries = canaries;
        this.delivery = delivery;
        this.connections = connections;
        this.names = names;
        this.records = records;
        this.outside = outside;
        this.attempt = new Attempt(clock, records, connections, names);
        this.knocking = new Knocking(db, records, names);
        this.recorder = new TrialRecorder(db, clock, records);
    }

    /** Kinds of which a connection can be made. */
    static final Set<Protocol> CONNECTED = Set.of(Protocol.WIREGUARD, Protocol.OPENVPN, Protocol.IKEV2);
    /** Kinds that are knocked at: that somebody answers is all that can be shown without their own clients. */
    static final Set<Protocol> KNOCKED = Set.of(Protocol.L2TP_IPSEC, Protocol.TLS);

    public static boolean isTried(String protocol) {
        Protocol p = Protocol.parse(protocol);
        return CONNECTED.contains(p) || KNOCKED.contains(p);
    }

    /** How a trial of a kind of listener came out, in a word or two. */
    public static String verdict(String protocol, boolean shown, Optional<Rung> failedAt) {
        return Result.of(KNOCKED.contains(Protocol.parse(protocol)), shown, failedAt)
                .label();
    }

    /** What a trial that a standing vantage made showed. */
    Claims claims(Trials.Trial trial, Ladder ladder, Optional<TrialApi.Measured> told) {
        if (KNOCKED.contains(Protocol.parse(trial.protocol()))) {
            return Claims.ofProbe(ladder);
        }
        Gateways.Gateway gateway = db.inTransaction(tx -> gateways.byName(tx, trial.gateway()))
                .orElseThrow(() -> ApiFailure.notFound("gateway"));
        return Claims.of(ladder, gateway.insideHost(), wanted(trial), TrialRecorder.facts(told));
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public Lane lane() {
        return Lane.TRIAL;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        UUID trialId = UUID.fromString(job.payload());
        Trials.Trial trial =
                db.inTransaction(tx -> Trials.byId(tx, trialId)).orElseThrow(() -> ApiFailure.notFound("trial"));
        if (!trial.state().equals("ended")) {
            db.inTransaction(tx -> trial.profileId().flatMap(id -> Profiles.byId(tx, id)))
                    .filter(p -> p.origin().equals("canary"))
                    .ifPresent(p -> delivery.now(p.gatewayId()));
            attempt(trial);
        }
    }

    private void attempt(Trials.Trial trial) {
        Listeners.Listener listener =
                db.inTransaction(tx -> Listeners.byId(tx, trial.listenerId())).orElseThrow();
        if (KNOCKED.contains(Protocol.parse(listener.protocol()))) {
            running(trial, Optional.empty(), Optional.empty(), KNOCK, Optional.empty());
            Ladder ladder = knocking.run(listener, clock.instant());
            recorder.end(trial.id(), ladder, Claims.ofProbe(ladder), Optional.empty(), Optional.empty());
            return;
        }
        Issuing.Newest asked = issuing.triable(trial.profileId().orElseThrow());
        boolean connected = isConnectedNow(asked.profile());
        Issuing.Newest tried = connected ? canary(asked.profile()) : asked;
        start(trial, asked, tried, connected);
        Gateways.Gateway gateway =
                db.inTransaction(tx -> gateways.byId(tx, listener.gatewayId())).orElseThrow();
        Optional<IpAddress> insideHost = gateway.insideHost();
        Wanted wanted = wanted(trial);
        if (!listener.protocol().equals(Protocol.WIREGUARD.word())) {
            Attempt.Outcome outcome = attempt.run(
                    tried,
                    issuing.account(tried.profile()),
                    gateway,
                    insideHost,
                    wanted,
                    rung -> say(trial.id(), rung.name()));
            Claims claims = Claims.of(outcome.ladder(), insideHost, wanted, outcome.measured())
                    .refused(refusal(tried));
            recorder.end(trial.id(), outcome.ladder(), claims, Optional.empty(), outcome.measured());
            return;
        }
        WireGuardFile file = WireGuardFile.read(tried.content().revealText(RevealSecret.TO_HANDSHAKE))
                .file();
        Question question = Question.of(file, listener.insideAddress(), insideHost);
        WireGuardTrial made = new WireGuardTrial(question, names, wanted, rung -> say(trial.id(), rung.name()));
        Observation seen = made.run();
        Ladder ladder = Ladder.judge(question, seen, Optional.empty());
        if (!ladder.isProven()) {
            Known known = new Known(records.withoutHoldings(clock.instant()), listener.gateway(), listener.name());
            ladder = Ladder.judge(
                    question, seen, evidence(question, listener), Optional.of(known.circumstances(List.of())));
        }
        Claims claims = Claims.of(ladder, insideHost, wanted, made.measured()).refused(refusal(tried));
        recorder.end(trial.id(), ladder, claims, received(tried.profile(), seen), made.measured());
    }

    private static Optional<Problem> refusal(Issuing.Newest tried) {
        return ClientRules.refusal(tried.content().revealText(RevealSecret.TO_HANDSHAKE));
    }

    /** What a standing vantage gets for a trial: the listener's canary or where to knock, never anybody's own file. */
    public Optional<TrialApi.Task> handed(UUID trialId) {
        Trials.Trial trial = db.inTransaction(tx -> Trials.byId(tx, trialId)).orElseThrow();
        try {
            Listeners.Listener listener = db.inTransaction(tx -> Listeners.byId(tx, trial.listenerId()))
                    .orElseThrow();
            return Optional.of(
                    KNOCKED.contains(Protocol.parse(listener.protocol()))
                            ? knock(trial, listener)
                            : withCanary(trial, listener));
        } catch (GatewayFailure | MalformedException | ApiFailure e) {
            db.run(tx -> {
                Trials.fail(tx, trialId, e.getMessage(), clock.instant());
                Events.say(tx, "trial", trialId.toString());
            });
            return Optional.empty();
        }
    }

    private TrialApi.Task knock(Trials.Trial trial, Listeners.Listener listener) {
        Knock knock = knocking.knock(listener, clock.instant());
        running(trial, Optional.empty(), Optional.empty(), KNOCK, Optional.empty());
        return TrialApi.Task.ofKnock(
                trial.id().toString(),
                trial.subject(),
                new TrialApi.Knock(
                        knock.kind().name().toLowerCase(Locale.ROOT),
                        knock.at().host().toString(),
                        knock.at().port().number(),
                        knock.name(),
                        knock.authorities().stream()
                                .map(a -> PemText.write("CERTIFICATE", a))
                                .toList()));
    }

    private TrialApi.Task withCanary(Trials.Trial trial, Listeners.Listener listener) {
        Profiles.Profile made = canaries.of(listener.id(), "tender", clock.instant());
        delivery.now(listener.gatewayId());
        Issuing.Newest canary = issuing.newest(made.id());
        Gateways.Gateway gateway =
                db.inTransaction(tx -> gateways.byId(tx, listener.gatewayId())).orElseThrow();
        running(
                trial,
                Optional.of(canary.profile().id()),
                trial.profileId().map(id -> issuing.newest(id).revision().id()),
                "a canary, " + canary.profile().label(),
                Optional.empty());
        Wanted wanted = wanted(trial);
        return new TrialApi.Task(
                trial.id().toString(),
                trial.subject(),
                Optional.of(canary.content()),
                issuing.account(canary.profile()).map(Issuing.Account::name),
                issuing.account(canary.profile()).map(Issuing.Account::password),
                gateway.insideHost().map(IpAddress::toString),
                wanted.echoes(),
                wanted.size(),
                wanted.insideName().map(HostName::text),
                wanted.outside().map(IpAddress::toString),
                Optional.empty());
    }

    /** What a trial was asked to measure, as it is kept. */
    record Asked(int echoes, boolean size, Optional<String> insideName) {
        static Asked of(boolean measure, Optional<String> insideName) {
            return new Asked(measure ? ECHOES : 0, measure, insideName);
        }
    }

    private Wanted wanted(Trials.Trial trial) {
        return trial.wanted()
                .map(w -> Json.readOwn(w, new TypeReference<Asked>() {}))
                .map(a -> new Wanted(
                        a.echoes(),
                        a.size(),
                        a.insideName().map(HostName::parse),
                        a.size() ? outside : Optional.empty(),
                        a.size()))
                .orElse(Wanted.NOTHING);
    }

    /**
     * Tries a listener with its canary, made for the listener as it is now, and keeps the trial; empty where it cannot be
     * tried at all.
     *
     * @param delivered lets the canary in; a job of the gateway itself does that at once, and cannot wait for another
     */
    public Optional<Boolean> prove(UUID listenerId, String why, Delivery delivered) {
        try {
            Profiles.Profile canary = canaries.of(listenerId, "tender", clock.instant());
            delivered.now(canary.gatewayId());
            canaries.afresh(canary.id(), clock.instant());
            return tried(canary, why, Optional.empty()).proven();
        } catch (GatewayFailure | MalformedException | ApiFailure e) {
            LOG.info("the listener cannot be tried {}: {}", why, e.getMessage());
            return Optional.empty();
        }
    }

    /** How one round of a listener went; why and what to do where it was not proven. */
    public record Round(
            UUID trialId,
            boolean proven,
            long millis,
            Optional<Double> echoMillis,
            Optional<String> rung,
            Optional<String> cause,
            Optional<String> remedy) {}

    /**
     * Tries a listener with its canary; a try that fails is made once more with a file made for the listener as it is now.
     * Throws where it cannot be tried at all.
     */
    public Round round(UUID listenerId) {
        Listeners.Listener listener =
                db.inTransaction(tx -> Listeners.byId(tx, listenerId)).orElseThrow();
        if (KNOCKED.contains(Protocol.parse(listener.protocol()))) {
            Trials.Trial trial = knocked(listener, "on its round");
            if (!trial.proven().orElse(false)) {
                trial = knocked(listener, "on its round, tried again");
            }
            UUID id = trial.id();
            db.run(tx -> Trials.keepNewest(tx, listenerId, KEPT_OF_ROUNDS));
            return round(trial, db.inTransaction(tx -> Trials.rungs(tx, List.of(id))));
        }
        refuseCarried(listener);
        Profiles.Profile canary = canaries.of(listenerId, "tender", clock.instant());
        delivery.now(canary.gatewayId());
        Optional<String> wanted = Optional.of(Json.text(new Asked(ROUND_ECHOES, false, Optional.empty())));
        Trials.Trial trial = tried(canary, "on its round", wanted);
        if (!trial.proven().orElse(false)) {
            canaries.afresh(canary.id(), clock.instant());
            trial = tried(canary, "on its round, tried again", wanted);
        }
        UUID id = trial.id();
        db.run(tx -> Trials.keepNewest(tx, canary.id(), KEPT_OF_ROUNDS));
        return round(trial, db.inTransaction(tx -> Trials.rungs(tx, List.of(id))));
    }

    /** A canary has to be let in at the gateway, which cannot be where files are carried to and fro by hand. */
    void refuseCarried(Listeners.Listener listener) {
        db.inTransaction(tx -> gateways.byId(tx, listener.gatewayId()))
                .filter(g -> g.connector().equals("file"))
                .ifPresent(g -> {
                    throw new ApiFailure(
                            ProblemCode.CONFLICT,
                            g.name()
                                    + " is known from dropped files alone, so that no canary can be let in there; try a profile of somebody's",
                            "gateway");
                });
    }

    private static Round round(Trials.Trial trial, List<Trials.RungRow> rungs) {
        Optional<Trials.RungRow> failed =
                rungs.stream().filter(r -> r.verdict().equals("FAILS")).findFirst();
        Optional<TrialApi.Cause> cause =
                failed.flatMap(r -> Json.readOwn(r.causes(), new TypeReference<List<TrialApi.Cause>>() {}).stream()
                        .findFirst());
        return new Round(
                trial.id(),
                trial.proven().orElse(false),
                rungs.stream().mapToLong(Trials.RungRow::millis).sum(),
                trial.measured()
                        .map(m -> Json.readOwn(m, new TypeReference<TrialApi.Measured>() {}))
                        .map(TrialApi.Measured::meanMillis),
                failed.map(r -> Rung.valueOf(r.rung()).label()),
                cause.map(TrialApi.Cause::what),
                cause.map(TrialApi.Cause::remedy));
    }

    private Trials.Trial tried(Profiles.Profile canary, String why, Optional<String> wanted) {
        return made(new Trials.Order(
                Ids.next(),
                Optional.of(canary.id()),
                Optional.empty(),
                TrialRoutes.VANTAGE,
                "service",
                canary.gateway() + " " + canary.listener() + ", " + why,
                "",
                wanted));
    }

    private Trials.Trial knocked(Listeners.Listener listener, String why) {
        return made(new Trials.Order(
                Ids.next(),
                Optional.empty(),
                Optional.of(listener.id()),
                TrialRoutes.VANTAGE,
                "service",
                listener.gateway() + " " + listener.name() + ", " + why,
                "",
                Optional.empty()));
    }

    private Trials.Trial made(Trials.Order order) {
        db.run(tx -> Trials.insert(tx, order, clock.instant()));
        attempt(db.inTransaction(tx -> Trials.byId(tx, order.id())).orElseThrow());
        return db.inTransaction(tx -> Trials.byId(tx, order.id())).orElseThrow();
    }

    /** The gateway's count for the tried key after the trial, so that the watch can tell the trial from a session. */
    private Optional<Long> received(Profiles.Profile tried, Observation seen) {
        if (seen.handshake() != Observation.Handshake.ESTABLISHED) {
            return Optional.empty();
        }
        try {
            return peer(tried).map(StatusDump.Peer::received);
        } catch (GatewayFailure | MalformedException | ApiFailure e) {
            LOG.info("{} cannot be asked after the trial: {}", tried.gateway(), e.getMessage());
            return Optional.empty();
        }
    }

    /** The device's own word where it can be asked, else what the watch last saw. */
    private boolean isConnectedNow(Profiles.Profile profile) {
        if (profile.identity().isName()) {
            return profile.connected();
        }
        Instant since = clock.instant().minus(Watch.SILENCE);
        OwnTraces traces = db.inTransaction(tx -> OwnTraces.of(tx, List.of(profile.id())));
        try {
            return peer(profile)
                    .filter(peer ->
                            peer.lastHandshake().filter(at -> at.isAfter(since)).isPresent()
                                    && !traces.explain(
                                            profile.id(), peer.lastHandshake().get(), peer.received()))
                    .isPresent();
        } catch (GatewayFailure | MalformedException e) {
            LOG.info("{} cannot be asked who is connected: {}", profile.gateway(), e.getMessage());
            return profile.connected();
        }
    }

    /** What the gateway shows now of a profile's key. */
    private Optional<StatusDump.Peer> peer(Profiles.Profile profile) {
        try (ManagementConnection session = connections.open(profile.gatewayId())) {
            return session.status().named(profile.listener()).stream()
                    .flatMap(live -> live.peers().stream())
                    .filter(peer -> peer.publicKey()
                            .toString()
                            .equals(profile.identity().value()))
                    .findFirst();
        }
    }

    private Issuing.Newest canary(Profiles.Profile profile) {
        Profiles.Profile canary = canaries.of(profile.listenerId(), "tender", clock.instant());
        delivery.now(profile.gatewayId());
        return issuing.newest(canary.id());
    }

    private void start(Trials.Trial trial, Issuing.Newest asked, Issuing.Newest tried, boolean connected) {
        Optional<String> note = connected
                ? Optional.of(asked.profile().label()
                        + " is connected now and was left alone; the listener was tried with a canary of Tender's own")
                : Optional.empty();
        String restsOn = tried.profile().origin().equals("canary")
                ? "a canary, " + tried.profile().label()
                : "this profile, revision " + tried.revision().number();
        running(
                trial,
                Optional.of(tried.profile().id()),
                Optional.of(asked.revision().id()),
                restsOn,
                note);
    }

    private void running(
            Trials.Trial trial, Optional<UUID> tried, Optional<UUID> revision, String restsOn, Optional<String> note) {
        db.run(tx -> {
            Trials.running(tx, trial.id(), tried, revision, restsOn, note);
            Events.say(tx, "trial", trial.id().toString());
        });
    }

    private void say(UUID trialId, String rung) {
        db.run(tx -> {
            Trials.at(tx, trialId, rung);
            Events.say(tx, "trial", trialId.toString());
        });
    }

    private Optional<GatewayEvidence> evidence(Question question, Listeners.Listener listener) {
        try (ManagementConnection session = connections.open(listener.gatewayId())) {
            byte[] content = session.tunnel(listener.name());
            WireGuardFile file = WireGuardFile.read(new String(content, StandardCharsets.UTF_8))
                    .file();
            return Optional.of(
                    GatewayEvidence.of(question, file, session.status().named(listener.name())));
        } catch (GatewayFailure | MalformedException | ApiFailure e) {
            LOG.info("no evidence from {}: {}", listener.gateway(), e.getMessage());
            return Optional.empty();
        }
    }

    @Override
    public void gaveUp(Jobs.Job job, String why) {
        UUID trialId = UUID.fromString(job.payload());
        db.run(tx -> {
            Trials.fail(tx, trialId, why, clock.instant());
            Events.say(tx, "trial", trialId.toString());
        });
    }
}
