package tender.client.trial;

import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import tender.api.ProblemCode;
import tender.api.TrialApi;
import tender.client.command.CallFailure;
import tender.core.certificate.PemText;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.trial.Ladder;
import tender.core.trial.ObservedSettings;
import tender.core.trial.ProbeLadder;
import tender.core.trial.ProbeSeen;
import tender.core.trial.ReachabilityProbe;
import tender.core.wire.MalformedException;
import tender.io.names.NameService;
import tender.io.trial.OwnAuthorities;
import tender.io.trial.ProbeTrial;

/** Probes a listener from this machine that only its own clients can use. */
final class Probing {
    private static final int HTTPS = 443;
    private static final int IKE = 500;

    private Probing() {}

    /** A TLS listener, written {@code HOST} or {@code HOST:PORT}. */
    static ReachabilityProbe tls(String place) {
        try {
            boolean port = place.matches(".*:\\d{1,5}")
                    && (place.indexOf(':') == place.lastIndexOf(':') || place.contains("]:"));
            Endpoint at = Endpoint.parse(port ? place : place + ":" + HTTPS, Transport.TCP);
            Optional<String> name = at.host() instanceof HostName n ? Optional.of(n.text()) : Optional.empty();
            return new ReachabilityProbe(
                    ReachabilityProbe.Kind.TLS, at, name, OwnAuthorities.with(List.of()), Instant.now());
        } catch (MalformedException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "--tls is written HOST or HOST:PORT: " + e.getMessage());
        }
    }

    static ReachabilityProbe l2tp(String host) {
        try {
            return new ReachabilityProbe(
                    ReachabilityProbe.Kind.L2TP,
                    new Endpoint(Host.parse(host), new Port(IKE), Transport.UDP),
                    Optional.empty(),
                    List.of(),
                    Instant.now());
        } catch (MalformedException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "--l2tp is a name or an address: " + e.getMessage());
        }
    }

    /** As the service hands it out. */
    static ReachabilityProbe of(TrialApi.Probe k) {
        ReachabilityProbe.Kind kind = ReachabilityProbe.Kind.valueOf(k.kind().toUpperCase(Locale.ROOT));
        return new ReachabilityProbe(
                kind,
                new Endpoint(
                        Host.parse(k.host()),
                        new Port(k.port()),
                        kind == ReachabilityProbe.Kind.TLS ? Transport.TCP : Transport.UDP),
                k.name(),
                OwnAuthorities.with(k.authorities().stream()
                        .map(a -> PemText.read(a).blocks().get(0).der())
                        .toList()),
                Instant.now());
    }

    /** What came of a probe, and what it saw of the listener's settings. */
    record Made(Ladder ladder, Map<Attribute, String> observed) {}

    static Made run(ReachabilityProbe probe, NameService names) {
        ProbeSeen seen = new ProbeTrial(probe, names).run();
        return new Made(ProbeLadder.judge(probe, seen, Optional.empty()), ObservedSettings.of(seen));
    }
}
