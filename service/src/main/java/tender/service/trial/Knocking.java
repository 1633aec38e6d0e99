package tender.service.trial;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.network.Endpoint;
import tender.core.network.HostName;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Protocol;
import tender.core.trial.Knock;
import tender.core.trial.KnockLadder;
import tender.core.trial.KnockSeen;
import tender.core.trial.Ladder;
import tender.core.walk.Called;
import tender.io.names.NameService;
import tender.io.trial.KnockTrial;
import tender.io.trial.OwnAuthorities;
import tender.service.office.OfficeRecords;
import tender.service.refusal.Refused;
import tender.store.certificate.Authorities;
import tender.store.jdbc.Db;
import tender.store.office.Listeners;

/** Knocks at listeners that only their own clients go through. */
final class Knocking {
    private static final Port IKE = new Port(500);

    private final Db db;
    private final OfficeRecords records;
    private final NameService names;

    Knocking(Db db, OfficeRecords records, NameService names) {
        this.db = db;
        this.records = records;
        this.names = names;
    }

    Ladder run(Listeners.Listener listener, Instant now) {
        Known known = known(listener, now);
        Knock knock = knock(listener, known, now);
        KnockSeen seen = new KnockTrial(knock, names).run();
        knock = knock.believing(OwnAuthorities.with(knock.authorities()));
        Ladder ladder = KnockLadder.judge(knock, seen, Optional.empty());
        return ladder.isAnswered()
                ? ladder
                : KnockLadder.judge(knock, seen, Optional.of(known.circumstances(List.of())));
    }

    /** How a listener is knocked at, and what should come. */
    Knock knock(Listeners.Listener listener, Instant now) {
        return knock(listener, known(listener, now), now);
    }

    private Known known(Listeners.Listener listener, Instant now) {
        return new Known(records.withoutHoldings(now), listener.gateway(), listener.name());
    }

    private Knock knock(Listeners.Listener listener, Known known, Instant now) {
        Endpoint called = listener.endpoint()
                .or(() -> known.listener()
                        .flatMap(
                                l -> Called.endpoints(known.chain(), l).stream().findFirst()))
                .orElseThrow(() -> new Refused(
                        Refused.Kind.CONFLICT,
                        "nothing is known of where " + listener.gateway() + " is called; say it: tender gateway set "
                                + listener.gateway() + " --endpoint HOST"));
        if (Protocol.parse(listener.protocol()) == Protocol.L2TP_IPSEC) {
            return new Knock(
                    Knock.Kind.L2TP, new Endpoint(called.host(), IKE, Transport.UDP), Optional.empty(), List.of(), now);
        }
        Optional<String> wanted = called.host() instanceof HostName name
                ? Optional.of(name.text())
                : known.listener().flatMap(Knocking::firstName);
        List<byte[]> believed = db.inTransaction(tx -> Authorities.all(tx)).stream()
                .map(Authorities.Authority::certificate)
                .toList();
        return new Knock(
                Knock.Kind.TLS, new Endpoint(called.host(), called.port(), Transport.TCP), wanted, believed, now);
    }

    private static Optional<String> firstName(Listener l) {
        return l.words(Attribute.SERVER_NAMES).stream().findFirst();
    }
}
