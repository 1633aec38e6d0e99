package tender.service.finding;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import tender.api.WatchApi;
import tender.core.finding.Finding;
import tender.core.finding.Findings;
import tender.core.finding.OwnChecks;
import tender.core.wire.Fields;
import tender.service.http.ApiFailure;
import tender.service.office.OfficeRecords;
import tender.store.certificate.Authorities;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.office.Acceptances;
import tender.store.office.Listeners;
import tender.store.profile.Profiles;
import tender.store.profile.TunnelKeys;
import tender.store.round.Rounds;

/** All findings, worked out from the records in a handful of bulk reads; accepted ones are told apart. */
public final class FindingsList {
    private final Db db;
    private final OfficeRecords records;

    public FindingsList(Db db, OfficeRecords records) {
        this.db = db;
        this.records = records;
    }

    /** As the rules give them. */
    public List<Finding> found(Instant now) {
        List<Finding> out = new ArrayList<>(db.inTransaction(tx -> OwnChecks.of(
                Rounds.failing(tx).stream()
                        .map(r -> new OwnChecks.Failing(
                                r.listenerId().toString(), r.gateway(), r.listener(), r.since(), r.rung(), r.cause()))
                        .toList(),
                Authorities.all(tx).stream()
                        .map(a -> new OwnChecks.AuthorityLife(a.id().toString(), a.name(), a.ends()))
                        .toList(),
                now)));
        out.addAll(db.inTransaction(FindingsList::admitted));
        out.addAll(Findings.of(records.office(now)).all());
        out.sort(Comparator.comparing(Finding::severity)); // stays in order otherwise
        return out;
    }

    private static List<Finding> admitted(Tx tx) {
        List<OwnChecks.StillIn> still = new ArrayList<>();
        TunnelKeys.stillThere(tx)
                .forEach(k -> still.add(new OwnChecks.StillIn(
                        k.profileId().toString(), k.label(), k.gateway(), "its key in " + k.listener())));
        Profiles.accountsStillThere(tx)
                .forEach(a -> still.add(new OwnChecks.StillIn(
                        a.profileId().toString(), a.label(), a.gateway(), "account " + a.account())));
        return OwnChecks.admitted(
                still,
                Listeners.lacking(tx).stream()
                        .map(l -> new OwnChecks.Incomplete(
                                l.gatewayId().toString(), l.gateway(), l.listener(), l.serials()))
                        .toList());
    }

    /** The finding of a key, as it is found now. */
    public Finding find(String key, Instant now) {
        String wanted = Fields.required("key", key);
        return found(now).stream()
                .filter(f -> f.key().equals(wanted))
                .findFirst()
                .orElseThrow(() -> ApiFailure.notFound("finding of this key"));
    }

    /** Worst first; those that somebody accepted come last. */
    public List<WatchApi.Finding> all(Instant now) {
        Map<String, Acceptances.Acceptance> accepted = db.inTransaction(tx -> Acceptances.valid(tx, now));
        List<WatchApi.Finding> out = new java.util.ArrayList<>();
        List<WatchApi.Finding> last = new java.util.ArrayList<>();
        for (Finding f : found(now)) {
            Optional<Acceptances.Acceptance> a = Optional.ofNullable(accepted.get(f.key()));
            (a.isPresent() ? last : out).add(render(f, a));
        }
        out.addAll(last);
        return out;
    }

    public List<WatchApi.Finding> open(Instant now) {
        return all(now).stream().filter(f -> f.acceptedUntil().isEmpty()).toList();
    }

    public static List<WatchApi.Finding> render(List<Finding> all) {
        return all.stream().map(f -> render(f, Optional.empty())).toList();
    }

    private static WatchApi.Finding render(Finding f, Optional<Acceptances.Acceptance> accepted) {
        return new WatchApi.Finding(
                f.key(),
                f.code(),
                f.severity().name().toLowerCase(Locale.ROOT),
                f.subjectKind(),
                f.subjectId(),
                f.subject(),
                f.evidence(),
                f.breaks(),
                f.remedy(),
                f.fix().map(x -> "at " + x.gateway() + ": " + x.change().words()),
                accepted.map(Acceptances.Acceptance::reason),
                accepted.map(Acceptances.Acceptance::until));
    }
}
