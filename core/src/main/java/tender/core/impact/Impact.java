package tender.core.impact;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import tender.core.finding.Finding;
import tender.core.finding.Findings;
import tender.core.finding.Rule;
import tender.core.network.Endpoint;
import tender.core.office.Change;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.Restart;
import tender.core.walk.Approach;
import tender.core.walk.Called;
import tender.core.walk.Fit;
import tender.core.walk.KnownNetworks;

/** What a change would do, before it is made: to the files that people hold, to those connected, and to what is wrong. */
public final class Impact {
    /** What becomes of a file. */
    public enum Fate {
        /** It goes on working. */
        WORKS,
        /** Its device fetches a new one by itself. */
        REFRESHES,
        /** Somebody has to be handed a new one. */
        NEEDS_HANDOUT
    }

    /** A file that the change concerns, with every field that would differ. */
    public record Affected(Office.IssuedProfile issued, Fate fate, List<Fit.Difference> differences) {}

    /**
     * @param works how many files of the gateways concerned go on working
     * @param affected the others, each with its differences
     * @param appears findings that the change would bring
     * @param vanishes findings that it would fix
     */
    public record Preview(
            List<String> words,
            Restart restart,
            int works,
            List<Affected> affected,
            List<Finding> appears,
            List<Finding> vanishes,
            Office after) {}

    private Impact() {}

    /** Of changes at a device. */
    public static Preview of(Office before, String gateway, List<Change> changes) {
        Office.Gateway g = before.gateway(gateway).orElseThrow();
        Restart restart = Restart.NONE;
        for (Change change : changes) {
            restart = restart.or(change.restart(g.device()));
        }
        Office after = before.with(g.with(Change.apply(g.device(), changes)));
        return compare(
                before, after, gateway, changes.stream().map(Change::words).toList(), restart);
    }

    /** Of a change in the records alone: an uplink, a host that clients call. */
    public static Preview ofRecords(Office before, Office.Gateway changed, String words) {
        return compare(before, before.with(changed), changed.name(), List.of(words), Restart.NONE);
    }

    private static Preview compare(Office before, Office after, String gateway, List<String> words, Restart restart) {
        Set<String> concerned = new HashSet<>(Set.of(gateway));
        for (Office.Gateway g : after.gateways().values()) {
            if (Approach.chain(after, g).gateways().stream()
                    .anyMatch(f -> f.name().equals(gateway))) {
                concerned.add(g.name());
            }
        }
        KnownNetworks knownBefore = new KnownNetworks(before);
        KnownNetworks knownAfter = new KnownNetworks(after);
        if (!knownBefore.equals(knownAfter)) {
            before.issuedProfiles()
                    .forEach(h -> concerned.add(h.gateway())); // a network may be reached through any gateway
        }
        int works = 0;
        List<Affected> affected = new ArrayList<>();
        for (Office.IssuedProfile h : before.issuedProfiles()) {
            if (!concerned.contains(h.gateway())) {
                continue;
            }
            Set<Fit.Difference> old = new HashSet<>(differences(before, knownBefore, h));
            List<Fit.Difference> fresh = differences(after, knownAfter, h).stream()
                    .filter(d -> !old.contains(d))
                    .toList();
            if (fresh.isEmpty()) {
                works++;
            } else {
                affected.add(new Affected(h, h.refreshes() ? Fate.REFRESHES : Fate.NEEDS_HANDOUT, fresh));
            }
        }
        Set<String> judged = new HashSet<>(Findings.touched(before, List.of(gateway)));
        judged.addAll(Findings.touched(after, List.of(gateway)));
        Map<String, Finding> was = findings(before, judged);
        Map<String, Finding> will = findings(after, judged);
        return new Preview(words, restart, works, affected, only(will, was), only(was, will), after);
    }

    private static List<Fit.Difference> differences(Office office, KnownNetworks known, Office.IssuedProfile h) {
        Office.Gateway g = office.gateway(h.gateway()).orElseThrow();
        Optional<Listener> listener = g.device().listener(h.listener());
        if (listener.isEmpty()) {
            return List.of(new Fit.Difference("listener", h.listener(), "gone"));
        }
        List<Endpoint> now = Called.endpoints(Approach.chain(office, g), listener.get());
        List<Fit.Difference> out = new ArrayList<>(Fit.differences(listener.get(), now, h));
        out.addAll(Fit.gone(known, g.site(), h));
        return out;
    }

    private static Map<String, Finding> findings(Office office, Set<String> gateways) {
        return Findings.around(office, gateways).all().stream()
                .collect(Collectors.toMap(f -> f.key() + f.evidence(), f -> f, (a, b) -> a));
    }

    private static List<Finding> only(Map<String, Finding> in, Map<String, Finding> not) {
        Set<String> keys = not.values().stream().map(Finding::key).collect(Collectors.toSet());
        return in.values().stream()
                .filter(f -> !keys.contains(f.key()) && f.rule() != Rule.FILE_OUT_OF_DATE) // told file by file already
                .sorted(java.util.Comparator.comparing(Finding::severity).thenComparing(Finding::key))
                .toList();
    }
}
