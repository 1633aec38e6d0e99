package tender.service.trial;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.network.Endpoint;
import tender.core.network.HostName;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Protocol;
import tender.core.trial.Ladder;
import tender.core.trial.ObservedSettings;
import tender.core.trial.ProbeLadder;
import tender.core.trial.ProbeSeen;
import tender.core.trial.ReachabilityProbe;
import tender.core.walk.Called;
import tender.io.names.NameService;
import tender.io.trial.OwnAuthorities;
import tender.io.trial.ProbeTrial;
import tender.service.office.OfficeRecords;
import tender.service.refusal.Refused;
import tender.store.certificate.Authorities;
import tender.store.jdbc.Db;
import tender.store.office.Listeners;

/** Probes listeners that only their own clients can use. */
final class Probing {
    private static final Port IKE = new Port(500);

    private final Db db;
    private final OfficeRecords records;
    private final NameService names;

    Probing(Db db, OfficeRecords records, NameService names) {
        this.db = db;
        this.records = records;
        this.names = names;
    }

    /** What came of it, and what it showed of the listener's settings. */
    record Probed(Ladder ladder, Map<Attribute, String> observed) {}

    Probed run(Listeners.Listener listener, Instant now) {
        TrialRecords known = known(listener, now);
        ReachabilityProbe probe = probe(listener, known, now);
        ProbeSeen seen = new ProbeTrial(probe, names).run();
        probe = probe.believing(OwnAuthorities.with(probe.authorities()));
        Ladder ladder = ProbeLadder.judge(probe, seen, Optional.empty());
        return new Probed(
                ladder.isAnswered()
                        ? ladder
                        : ProbeLadder.judge(probe, seen, Optional.of(known.circumstances(List.of()))),
                ObservedSettings.of(seen));
    }

    /** How a listener is probed, and what should answer. */
    ReachabilityProbe probe(Listeners.Listener listener, Instant now) {
        return probe(listener, known(listener, now), now);
    }

    private TrialRecords known(Listeners.Listener listener, Instant now) {
        return new TrialRecords(records.withoutProfiles(now), listener.gateway(), listener.name());
    }

    private static Endpoint called(Listeners.Listener listener, TrialRecords known) {
        return listener.endpoint()
                .or(() -> known.listener()
                        .flatMap(
                                l -> Called.endpoints(known.chain(), l).stream().findFirst()))
                .orElseThrow(() -> new Refused(
                        Refused.Kind.CONFLICT,
                        "nothing is known of where " + listener.gateway() + " is called; say it: tender gateway set "
                                + listener.gateway() + " --endpoint HOST"));
    }

    private ReachabilityProbe probe(Listeners.Listener listener, TrialRecords known, Instant now) {
        Endpoint called = called(listener, known);
        if (Protocol.parse(listener.protocol()) == Protocol.L2TP_IPSEC) {
            return new ReachabilityProbe(
                    ReachabilityProbe.Kind.L2TP,
                    new Endpoint(called.host(), IKE, Transport.UDP),
                    Optional.empty(),
                    List.of(),
                    now);
        }
        Optional<String> wanted = called.host() instanceof HostName name
                ? Optional.of(name.text())
                : known.listener().flatMap(Probing::firstName);
        List<byte[]> believed = db.inTransaction(tx -> Authorities.all(tx)).stream()
                .map(Authorities.Authority::certificate)
                .toList();
        return new ReachabilityProbe(
                ReachabilityProbe.Kind.TLS,
                new Endpoint(called.host(), called.port(), Transport.TCP),
                wanted,
                believed,
                now);
    }

    private static Optional<String> firstName(Listener l) {
        return l.words(Attribute.SERVER_NAMES).stream().findFirst();
    }
}
