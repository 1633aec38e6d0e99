package tender.store.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.function.Function;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.core.trial.Rung;
import tender.core.trial.Verdict;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Slice;
import tender.store.jdbc.StoreException;
import tender.store.jdbc.Tx;
import tender.store.profile.Whose;
import tender.store.testing.OneRouter;
import tender.store.testing.TestDatabase;

/** Trials on a real database: of profiles and of listeners alone, and those that wait for somebody elsewhere. */
class TrialsTest {
    private static final TrialDocuments.Measured MEASURED = new TrialDocuments.Measured(
            20, 5, 1.5, 2, 3, Optional.of(1420), Optional.empty(), Optional.empty(), Optional.empty());

    private final Instant now = Instant.now();
    private TestDatabase database;
    private Db db;
    private OneRouter router;
    private UUID profile;

    @BeforeEach
    void open() {
        database = TestDatabase.fresh();
        db = database.open();
        router = new OneRouter(db, now);
        profile = router.profile("mara-phone-pier2", "10.99.4.2", "KEY");
    }

    @AfterEach
    void close() {
        assertThat(db.busy()).isZero();
        db.close();
        database.close();
    }

    private <T> List<T> all(Function<Tx, List<T>> work) {
        return db.inTransaction(work::apply);
    }

    private <T> Optional<T> one(Function<Tx, Optional<T>> work) {
        return db.inTransaction(work::apply);
    }

    private UUID trial(Optional<UUID> ofProfile, String vantage, Instant at) {
        UUID id = Ids.next();
        db.run(tx -> Trials.insert(
                tx,
                new Trials.Order(
                        id,
                        ofProfile,
                        ofProfile.isPresent() ? Optional.empty() : Optional.of(router.listener),
                        vantage,
                        vantage.equals("service") ? "service" : "standing",
                        "it works",
                        "",
                        Optional.empty()),
                at));
        return id;
    }

    private Trials.Trial read(UUID id) {
        return db.inTransaction(tx -> Trials.byId(tx, id)).orElseThrow();
    }

    @Test
    void aTrialOfAProfileAndOneOfAListenerAloneStandSideBySide() {
        UUID ofProfile = trial(Optional.of(profile), "service", now);
        UUID ofListener = trial(Optional.empty(), "service", now.plusSeconds(1));

        assertThat(read(ofProfile).label()).isEqualTo("mara-phone-pier2");
        assertThat(read(ofProfile).person()).contains("Mara");
        assertThat(read(ofListener).label()).isEqualTo("pier2 wg0");
        assertThat(read(ofListener).profileId()).isEmpty();
        assertThat(read(ofListener).person()).isEmpty();
        assertThat(all(tx -> Trials.ofListener(tx, router.listener, 9)))
                .extracting(Trials.Trial::id)
                .containsExactly(ofListener, ofProfile);
        assertThat(all(tx -> Trials.page(tx, Whose.profile(profile), Slice.after(END, 9))))
                .extracting(Trials.Trial::id)
                .containsExactly(ofProfile);
    }

    private static final UUID END = UUID.fromString("ffffffff-ffff-ffff-ffff-ffffffffffff");

    @Test
    void aTrialOfNothingIsRefused() {
        assertThatThrownBy(() -> db.run(tx -> Trials.insert(
                        tx,
                        new Trials.Order(
                                Ids.next(),
                                Optional.empty(),
                                Optional.empty(),
                                "service",
                                "service",
                                "",
                                "",
                                Optional.empty()),
                        now)))
                .isInstanceOf(StoreException.class);
    }

    @Test
    void onlyTheNewestOfEachAreKept() {
        List<UUID> listeners = IntStream.range(0, 5)
                .mapToObj(i -> trial(Optional.empty(), "service", now.plus(Duration.ofMinutes(i))))
                .toList();
        UUID other = trial(Optional.of(profile), "service", now);

        db.run(tx -> Trials.keepNewest(tx, router.listener, 2));

        assertThat(one(tx -> Trials.byId(tx, listeners.get(0)))).isEmpty();
        assertThat(read(listeners.get(3)).state()).isEqualTo(TrialState.WAITING);
        assertThat(read(listeners.get(4)).state()).isEqualTo(TrialState.WAITING);
        assertThat(read(other).id()).as("a profile's own stays").isEqualTo(other);
    }

    @Test
    void twoThatAskAtOnceNeverGetTheSame() {
        IntStream.range(0, 20).forEach(i -> trial(Optional.empty(), "outpost", now.plusSeconds(i)));

        List<UUID> taken = IntStream.range(0, 4)
                .mapToObj(n -> CompletableFuture.supplyAsync(() -> IntStream.range(0, 5)
                        .mapToObj(i -> one(tx -> Trials.takeFor(tx, "outpost")).orElse(null))
                        .filter(Objects::nonNull)
                        .toList()))
                .toList()
                .stream()
                .flatMap(f -> f.join().stream())
                .toList();

        assertThat(taken).hasSize(20).doesNotHaveDuplicates();
        assertThat(one(tx -> Trials.takeFor(tx, "outpost"))).isEmpty();
        assertThat(one(tx -> Trials.takeFor(tx, "somebody-else"))).isEmpty();
    }

    @Test
    void anEndedTrialHasItsRungsOnceHoweverOftenItIsTold() {
        UUID id = trial(Optional.of(profile), "service", now);
        List<Trials.RungRow> rungs = List.of(
                new Trials.RungRow(id, 0, Rung.NAME, Verdict.OK, 3, "an address", List.of()),
                new Trials.RungRow(id, 1, Rung.ADDRESS, Verdict.OK, 0, "192.0.2.1", List.of()));

        for (int i = 0; i < 2; i++) {
            db.run(tx -> Trials.end(
                    tx,
                    new Trials.Ending(
                            id,
                            rungs,
                            new Trials.Shown(true, List.of(), Optional.of(true)),
                            Optional.empty(),
                            Optional.of(MEASURED),
                            now)));
        }

        assertThat(all(tx -> Trials.rungs(tx, List.of(id)))).hasSize(2);
        assertThat(read(id).proven()).contains(true);
        assertThat(read(id).measured()).contains(MEASURED);
    }
}
