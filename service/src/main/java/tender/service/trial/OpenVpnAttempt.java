package tender.service.trial;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.credential.RevealSecret;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.openvpn.ClientSettings;
import tender.core.trial.Ladder;
import tender.core.trial.Circumstances;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.OpenVpnSeen;
import tender.core.trial.Rung;
import tender.core.walk.Approach;
import tender.core.walk.Called;
import tender.core.walk.Hop;
import tender.core.trial.Wanted;
import tender.core.wire.MalformedException;
import tender.io.gateway.Capability;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.Session;
import tender.io.names.NameService;
import tender.io.trial.OpenVpnTrial;
import tender.service.device.Connections;
import tender.service.http.ApiFailure;
import tender.service.office.OfficeRecords;
import tender.service.profile.Issuing;
import tender.store.office.Gateways;

/** Tries an OpenVPN profile and judges it with what the records and the gateway's log say. */
final class OpenVpnAttempt {
    private static final Logger LOG = LoggerFactory.getLogger(OpenVpnAttempt.class);
    private static final int LOG_LINES = 40;

    private final Clock clock;
    private final OfficeRecords records;
    private final Connections connections;
    private final NameService names;

    OpenVpnAttempt(Clock clock, OfficeRecords records, Connections connections, NameService names) {
        this.clock = clock;
        this.records = records;
        this.connections = connections;
        this.names = names;
    }

    Ladder run(
            Issuing.Newest tried, Gateways.Gateway gateway, Optional<IpAddress> insideHost, Consumer<Rung> entering) {
        Instant now = clock.instant();
        Office office = records.withoutHoldings(now);
        Office.Gateway place = office.gateway(gateway.name()).orElseThrow();
        Optional<Listener> listener = place.device().listener(tried.profile().listener());
        OpenVpnQuestion question = OpenVpnQuestion.of(
                tried.content().revealText(RevealSecret.TO_HANDSHAKE),
                ClientSettings.Added.NOTHING,
                insideHost,
                listener.flatMap(l -> l.words(Attribute.SERVER_NAMES).stream().findFirst()),
                now);
        OpenVpnSeen seen = new OpenVpnTrial(question, names, Wanted.NOTHING, entering).run();
        Ladder ladder = OpenVpnLadder.judge(question, seen, Optional.empty());
        return ladder.isProven()
                ? ladder
                : OpenVpnLadder.judge(
                        question,
                        seen,
                        Optional.of(new Circumstances(
                                listener,
                                false,
                                false,
                                listener.flatMap(l -> blocked(office, place, l)),
                                log(gateway))));
    }

    /** The first hop from outside to the listener that lets nothing through, by the records. */
    private static Optional<String> blocked(Office office, Office.Gateway place, Listener listener) {
        Approach.Chain chain = Approach.chain(office, place);
        return Called.door(chain, listener)
                .flatMap(door -> Approach.walk(office, chain, listener, door).stream()
                        .filter(hop -> !hop.passes())
                        .findFirst())
                .map(hop -> hop.place() + ": " + hop.detail()
                        + hop.remedy().map(Hop.Remedy::words).map(w -> "; " + w).orElse(""));
    }

    private List<String> log(Gateways.Gateway gateway) {
        try (Session session = connections.open(gateway.id())) {
            return session.capabilities().contains(Capability.LOG) ? session.log(LOG_LINES) : List.of();
        } catch (GatewayFailure | MalformedException | ApiFailure e) {
            LOG.info("no log from {}: {}", gateway.name(), e.getMessage());
            return List.of();
        }
    }
}
