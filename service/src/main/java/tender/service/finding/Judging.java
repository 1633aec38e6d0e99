package tender.service.finding;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import tender.core.finding.Finding;
import tender.core.finding.Findings;
import tender.core.finding.OwnChecks;
import tender.core.office.Office;
import tender.service.office.OfficeDocuments;
import tender.service.office.OfficeRecords;
import tender.store.certificate.Authorities;
import tender.store.finding.KeptFindings;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.monitor.ScheduledTrials;
import tender.store.office.Listeners;
import tender.store.profile.ListenerProfiles;
import tender.store.profile.Revisions;
import tender.store.profile.TunnelKeys;

/**
 * Judges what has changed and writes the findings that differ. Holds the office as it was judged last, so that one changed
 * gateway means reading and judging that gateway and what depends on it. Not safe for several threads.
 */
final class Judging {
    private static final String OWN = "own";
    /** Rules over the office stand behind those over what Tender itself runs, where they are equally bad. */
    private static final int OFFICE = 1_000;

    private static final int SEVERITY = 1_000_000;
    private static final Pattern GATEWAY = Pattern.compile("[0-9a-f-]{36}");

    private final Db db;
    private final Clock clock;
    private final OfficeRecords records;
    /** What stands in the table, by scope. */
    private Map<String, List<Finding>> written = new HashMap<>();

    private Optional<Findings> judged = Optional.empty();

    Judging(Db db, Clock clock, OfficeRecords records) {
        this.db = db;
        this.clock = clock;
        this.records = records;
    }

    /** Judges what the news is about; whether any finding came, went or changed. */
    boolean judge(Changed.News news) {
        Instant now = clock.instant();
        if (news.everything() || judged.isEmpty()) {
            return everything(Findings.of(records.office(now)), now);
        }
        Set<String> scopes = new LinkedHashSet<>();
        Map<String, List<Finding>> found = new HashMap<>();
        Set<UUID> gateways = new LinkedHashSet<>(news.gateways());
        Set<UUID> issuedAt = news.profiles().isEmpty()
                ? Set.of()
                : db.inTransaction(tx -> Revisions.gatewaysOf(tx, news.profiles()));
        gateways.addAll(issuedAt);
        if (!gateways.isEmpty() || !news.names().isEmpty()) {
            Office fresh = records.refreshed(judged.get().office(), gateways, issuedAt, now);
            Set<String> touched = new LinkedHashSet<>(records.names(gateways, fresh));
            touched.addAll(calling(fresh, news.names()));
            scopes.addAll(judged.get().changed(fresh, touched));
            Map<String, List<Finding>> all = judged.get().byScope();
            scopes.forEach(s -> found.put(s, all.getOrDefault(s, List.of())));
        }
        if (news.own() || !gateways.isEmpty()) {
            scopes.add(OWN);
            found.put(OWN, own(now));
        }
        scopes.removeIf(s -> written.getOrDefault(s, List.of()).equals(found.get(s)));
        if (scopes.isEmpty()) {
            return false;
        }
        Map<String, List<Finding>> gone = new HashMap<>();
        Map<String, List<Finding>> come = new HashMap<>();
        for (String scope : scopes) {
            gone.put(scope, without(written.getOrDefault(scope, List.of()), found.get(scope)));
            come.put(scope, without(found.get(scope), written.getOrDefault(scope, List.of())));
        }
        db.run(tx -> KeptFindings.change(tx, drafts(scopes, gone), drafts(scopes, come)));
        scopes.forEach(s -> written.put(s, found.get(s)));
        return true;
    }

    /** Gateways that clients are told to call by these names, or whose lines go by them. */
    private static Set<String> calling(Office office, Set<String> names) {
        return office.gateways().values().stream()
                .filter(g -> g.hosts().stream().anyMatch(h -> names.contains(h.toString()))
                        || g.uplinks().stream()
                                .anyMatch(u -> u.name()
                                        .filter(n -> names.contains(n.text()))
                                        .isPresent()))
                .map(Office.Gateway::name)
                .collect(Collectors.toSet());
    }

    private static List<Finding> without(List<Finding> all, List<Finding> others) {
        Set<Finding> not = new HashSet<>(others);
        return all.stream().filter(f -> !not.contains(f)).toList();
    }

    /** Writes the whole table anew: somebody else may have written it since. */
    private boolean everything(Findings all, Instant now) {
        judged = Optional.of(all);
        Map<String, List<Finding>> found = new HashMap<>(all.byScope());
        found.put(OWN, own(now));
        boolean differs = !found.equals(written);
        db.run(tx -> KeptFindings.replaceAll(tx, drafts(found.keySet(), found)));
        written = found;
        return differs;
    }

    private List<Finding> own(Instant now) {
        return db.inTransaction(tx -> {
            List<Finding> out = new ArrayList<>(OwnChecks.of(
                    ScheduledTrials.failing(tx).stream()
                            .map(r -> new OwnChecks.Failing(
                                    r.listenerId().toString(),
                                    r.gateway(),
                                    r.listener(),
                                    r.since(),
                                    r.rung(),
                                    r.cause()))
                            .toList(),
                    Authorities.all(tx).stream()
                            .map(a -> new OwnChecks.AuthorityLife(a.id().toString(), a.name(), a.ends()))
                            .toList(),
                    now));
            out.addAll(admitted(tx));
            return out;
        });
    }

    private static List<Finding> admitted(Tx tx) {
        List<OwnChecks.StillIn> still = new ArrayList<>();
        TunnelKeys.stillThere(tx)
                .forEach(k -> still.add(new OwnChecks.StillIn(
                        k.profileId().toString(), k.label(), k.gateway(), "its key in " + k.listener())));
        ListenerProfiles.accountsStillThere(tx)
                .forEach(a -> still.add(new OwnChecks.StillIn(
                        a.profileId().toString(), a.label(), a.gateway(), "account " + a.account())));
        return OwnChecks.admitted(
                still,
                Listeners.lacking(tx).stream()
                        .map(l -> new OwnChecks.Incomplete(
                                l.gatewayId().toString(), l.gateway(), l.listener(), l.serials()))
                        .toList());
    }

    private static List<KeptFindings.Draft> drafts(Collection<String> scopes, Map<String, List<Finding>> found) {
        List<KeptFindings.Draft> out = new ArrayList<>();
        for (String scope : scopes) {
            List<Finding> all = found.getOrDefault(scope, List.of());
            for (Finding f : all) {
                int within = (scope.equals(OWN) ? 0 : OFFICE) + f.rule().ordinal();
                out.add(draft(scope, f.severity().ordinal() * SEVERITY + within, f));
            }
        }
        return out;
    }

    private static KeptFindings.Draft draft(String scope, int rank, Finding f) {
        String gateway = f.subjectId().split("/", 2)[0];
        boolean concerns = (f.subjectKind().equals("gateway") || f.subjectKind().equals("listener"))
                && GATEWAY.matcher(gateway).matches();
        return new KeptFindings.Draft(
                scope,
                rank,
                f.key(),
                f.code(),
                f.severity().word(),
                f.subjectKind(),
                f.subjectId(),
                f.subject(),
                f.evidence(),
                f.breaks(),
                f.remedy(),
                concerns ? Optional.of(UUID.fromString(gateway)) : Optional.empty(),
                f.fix().map(Finding.Fix::gateway),
                f.fix().map(x -> OfficeDocuments.CHANGES.write(List.of(x.change()))),
                f.fix().map(Finding.Fix::words));
    }
}
