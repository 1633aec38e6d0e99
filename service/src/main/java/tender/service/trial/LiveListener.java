package tender.service.trial;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.profile.WireGuardFile;
import tender.core.trial.GatewayEvidence;
import tender.core.trial.Question;
import tender.core.wire.MalformedException;
import tender.core.wireguard.StatusDump;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.ManagementConnection;
import tender.service.device.Connections;
import tender.service.refusal.Refused;
import tender.service.session.TrialTraffic;
import tender.service.session.Watch;
import tender.store.jdbc.Db;
import tender.store.office.Listeners;
import tender.store.profile.Profiles;

/** What a gateway itself shows of a listener while a trial of it is made. */
final class LiveListener {
    private static final Logger LOG = LoggerFactory.getLogger(LiveListener.class);

    private final Db db;
    private final Clock clock;
    private final Connections connections;

    LiveListener(Db db, Clock clock, Connections connections) {
        this.db = db;
        this.clock = clock;
        this.connections = connections;
    }

    /** Whether the profile's device is connected: the gateway's own word where it can be asked, else what the watch last saw. */
    boolean isConnected(Profiles.Profile profile) {
        if (profile.identity().isName()) {
            return profile.connected();
        }
        Instant since = clock.instant().minus(Watch.SILENCE);
        TrialTraffic traces = db.inTransaction(tx -> TrialTraffic.of(tx, List.of(profile.id())));
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
    Optional<StatusDump.Peer> peer(Profiles.Profile profile) {
        try (ManagementConnection session = connections.open(profile.gatewayId())) {
            return session.status().named(profile.listener()).stream()
                    .flatMap(live -> live.peers().stream())
                    .filter(peer -> peer.publicKey()
                            .toString()
                            .equals(profile.identity().value()))
                    .findFirst();
        }
    }

    /** The listener's file and status, for judging what silence leaves open; empty where the gateway cannot be read. */
    Optional<GatewayEvidence> evidence(Question question, Listeners.Listener listener) {
        try (ManagementConnection session = connections.open(listener.gatewayId())) {
            byte[] content = session.tunnel(listener.name());
            WireGuardFile file = WireGuardFile.read(new String(content, StandardCharsets.UTF_8))
                    .file();
            return Optional.of(
                    GatewayEvidence.of(question, file, session.status().named(listener.name())));
        } catch (GatewayFailure | MalformedException | Refused e) {
            LOG.info("no evidence from {}: {}", listener.gateway(), e.getMessage());
            return Optional.empty();
        }
    }
}
