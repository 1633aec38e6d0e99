package tender.service.trial;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.office.Attribute;
import tender.core.office.Disagreement;
import tender.core.office.HandSteps;
import tender.core.office.Office;
import tender.core.office.SettingSource;
import tender.core.trial.Claim;
import tender.core.trial.Rung;
import tender.core.trial.Verdict;
import tender.core.walk.Fit;
import tender.core.wire.MalformedException;
import tender.service.office.OfficeRecords;
import tender.service.profile.ProfileFiles;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.office.Listeners;
import tender.store.office.SettingSources;
import tender.store.profile.ListenerProfiles;
import tender.store.profile.Profiles;
import tender.store.trial.Trials;

/** Tries listeners where no canary can be let in: with the files that are there for them, or by a probe. */
public final class ListenerProof {
    private static final int CANDIDATES = 50;
    /** A file that is made for another place shows nothing of this one. */
    private static final Set<String> PLACE = Set.of("endpoint", Attribute.PORT.word(), Attribute.TRANSPORT.word());

    private static final String CONNECTS = Claim.Kind.CONNECTS.name().toLowerCase(Locale.ROOT);

    private final Db db;
    private final Clock clock;
    private final ProfileFiles files;
    private final OfficeRecords records;
    private final TrialRunner runner;

    ListenerProof(Db db, Clock clock, ProfileFiles files, OfficeRecords records, TrialRunner runner) {
        this.records = records;
        this.db = db;
        this.clock = clock;
        this.files = files;
        this.runner = runner;
    }

    /**
     * What a trial of a listener showed.
     *
     * @param works empty where nothing could be tried
     * @param onlyOthers whether files are there, and none is made for the listener as it should be now
     */
    public record Shown(Optional<Boolean> works, boolean onlyOthers, String words) {}

    /**
     * Tries a listener, with a file that calls it where it is now.
     *
     * @param wanted what is to be shown: a file made for other settings or another port shows nothing, and a trial that sees other
     *     settings shows the contrary
     * @param why kept with the trial
     */
    public Shown of(Listeners.Listener listener, HandSteps.Tries wanted, String why) {
        Instant start = clock.instant();
        try {
            Shown shown =
                    TrialKinds.isProbed(listener.protocol()) ? probed(listener, why) : withFile(listener, wanted, why);
            return shown.works().orElse(false)
                    ? otherwise(listener, wanted.settings(), start)
                            .map(words -> new Shown(Optional.of(false), false, words))
                            .orElse(shown)
                    : shown;
        } catch (Refused | MalformedException e) {
            return new Shown(Optional.empty(), false, listener.name() + " cannot be tried: " + e.getMessage());
        }
    }

    /** What the trial saw to be set otherwise. */
    private Optional<String> otherwise(Listeners.Listener listener, Map<Attribute, String> settings, Instant start) {
        return db.inTransaction(tx -> SettingSources.of(tx, listener.gatewayId())).stream()
                .filter(s -> s.listener().equals(listener.name())
                        && s.source() == SettingSource.TRIAL
                        && !s.at().isBefore(start))
                .filter(s -> settings.containsKey(s.setting())
                        && Disagreement.differ(s.setting(), settings.get(s.setting()), s.value()))
                .map(s -> "a trial saw " + s.setting().word() + " " + s.value())
                .findFirst();
    }

    /** Whether a file is made for the listener as it is known now, and calls the port that is to be shown. */
    private boolean fits(Profiles.Profile p, Listeners.Listener listener, TrialRecords known, HandSteps.Tries wanted) {
        Office.IssuedProfile issued = files.newest(p.id()).issued();
        boolean called = wanted.opened()
                .flatMap(HandSteps.Opened::outside)
                .map(port -> issued.endpoints().stream().anyMatch(e -> e.port().equals(port)))
                .orElse(true);
        return called
                && known.listener().stream()
                        .flatMap(l ->
                                Fit.differences(l, listener.endpoint().stream().toList(), issued).stream())
                        .map(Fit.Difference::field)
                        .noneMatch(field -> PLACE.contains(field)
                                || wanted.settings().keySet().stream()
                                        .anyMatch(s -> s.word().equals(field)));
    }

    private Shown probed(Listeners.Listener listener, String why) {
        Trials.Trial trial = made(Optional.empty(), Optional.of(listener.id()), why);
        boolean answers = trial.proven().orElse(false);
        return new Shown(
                Optional.of(answers),
                false,
                listener.name() + (answers ? " answers" : " does not answer as it should" + at(trial)));
    }

    private Shown withFile(Listeners.Listener listener, HandSteps.Tries wanted, String why) {
        TrialRecords known =
                new TrialRecords(records.withoutProfiles(clock.instant()), listener.gateway(), listener.name());
        List<Profiles.Profile> there =
                db.inTransaction(tx -> ListenerProfiles.triable(tx, listener.id(), CANDIDATES).stream()
                        .flatMap(id -> Profiles.byId(tx, id).stream())
                        .toList());
        Optional<Profiles.Profile> fitting =
                there.stream().filter(p -> fits(p, listener, known, wanted)).findFirst();
        if (fitting.isEmpty()) {
            return new Shown(
                    Optional.empty(),
                    !there.isEmpty(),
                    there.isEmpty()
                            ? "no file for " + listener.name() + " is there to try it with"
                            : "no file is made for " + listener.name()
                                    + " as it should be now; renew one: tender profile renew "
                                    + there.get(0).label());
        }
        Trials.Trial trial = ofProfile(fitting.get().id(), why);
        boolean letIn = isLetIn(trial);
        return new Shown(
                Optional.of(letIn),
                false,
                fitting.get().label() + (letIn ? " is let in" : " is not let in" + at(trial)));
    }

    /** Tries a profile with its very file. */
    Trials.Trial ofProfile(UUID profileId, String why) {
        return made(Optional.of(profileId), Optional.empty(), why);
    }

    private Trials.Trial made(Optional<UUID> profileId, Optional<UUID> listenerId, String why) {
        Trials.Order order = new Trials.Order(
                Ids.next(), profileId, listenerId, Vantages.SERVICE, "service", why, "", Optional.empty());
        db.run(tx -> Trials.insert(tx, order, clock.instant()));
        runner.run(db.inTransaction(tx -> Trials.byId(tx, order.id())).orElseThrow());
        return db.inTransaction(tx -> Trials.byId(tx, order.id())).orElseThrow();
    }

    /** Whether the server let it in, whatever answers inside. */
    static boolean isLetIn(Trials.Trial trial) {
        return trial.claims().stream().anyMatch(c -> c.shown() && c.kind().equals(CONNECTS));
    }

    /** Where a trial failed. */
    Optional<Rung> failed(Trials.Trial trial) {
        return db.inTransaction(tx -> Trials.rungs(tx, List.of(trial.id()))).stream()
                .filter(r -> r.verdict() == Verdict.FAILS)
                .map(Trials.RungRow::rung)
                .findFirst();
    }

    /** Where a trial failed, to be put behind what it showed. */
    String at(Trials.Trial trial) {
        return failed(trial).map(r -> ", it failed at: " + r.label()).orElse("");
    }
}
