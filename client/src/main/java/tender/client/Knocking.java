package tender.client;

import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import tender.api.ProblemCode;
import tender.api.TrialApi;
import tender.core.certificate.PemText;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.trial.Knock;
import tender.core.trial.KnockLadder;
import tender.core.trial.Ladder;
import tender.core.wire.MalformedException;
import tender.io.names.NameService;
import tender.io.trial.KnockTrial;
import tender.io.trial.OwnAuthorities;

/** Knocks from this machine at a listener that only its own clients go through. */
final class Knocking {
    private static final int HTTPS = 443;
    private static final int IKE = 500;

    private Knocking() {}

    /** A TLS listener, written {@code HOST} or {@code HOST:PORT}. */
    static Knock tls(String place) {
        try {
            boolean port = place.matches(".*:\\d{1,5}")
                    && (place.indexOf(':') == place.lastIndexOf(':') || place.contains("]:"));
            Endpoint at = Endpoint.parse(port ? place : place + ":" + HTTPS, Transport.TCP);
            Optional<String> name = at.host() instanceof HostName n ? Optional.of(n.text()) : Optional.empty();
            return new Knock(Knock.Kind.TLS, at, name, OwnAuthorities.with(List.of()), Instant.now());
        } catch (MalformedException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "--tls is written HOST or HOST:PORT: " + e.getMessage());
        }
    }

    static Knock l2tp(String host) {
        try {
            return new Knock(
                    Knock.Kind.L2TP,
                    new Endpoint(Host.parse(host), new Port(IKE), Transport.UDP),
                    Optional.empty(),
                    List.of(),
                    Instant.now());
        } catch (MalformedException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "--l2tp is a name or an address: " + e.getMessage());
        }
    }

    /** As the service hands it out. */
    static Knock of(TrialApi.Knock k) {
        Knock.Kind kind = Knock.Kind.valueOf(k.kind().toUpperCase(Locale.ROOT));
        return new Knock(
                kind,
                new Endpoint(
                        Host.parse(k.host()),
                        new Port(k.port()),
                        kind == Knock.Kind.TLS ? Transport.TCP : Transport.UDP),
                k.name(),
                OwnAuthorities.with(k.authorities().stream()
                        .map(a -> PemText.read(a).blocks().get(0).der())
                        .toList()),
                Instant.now());
    }

    static Ladder run(Knock knock, NameService names) {
        return KnockLadder.judge(knock, new KnockTrial(knock, names).run(), Optional.empty());
    }
}
