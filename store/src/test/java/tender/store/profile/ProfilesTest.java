package tender.store.profile;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.core.credential.Custody;
import tender.core.credential.Secret;
import tender.core.handout.Parcel;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.store.credential.Credentials;
import tender.store.handout.HandoutState;
import tender.store.handout.Handouts;
import tender.store.handout.Pickups;
import tender.store.jdbc.ConflictException;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Slice;
import tender.store.office.Listeners;
import tender.store.operator.Operators;
import tender.store.operator.Replays;
import tender.store.overview.Line;
import tender.store.overview.Search;
import tender.store.secret.ColumnCipher;
import tender.store.secret.MasterKey;
import tender.store.session.Sessions;
import tender.store.testing.OneRouter;
import tender.store.testing.TestDatabase;

/** Profiles, handouts and sessions on a real database, by the few and by the ten thousand. */
class ProfilesTest {
    private static final UUID END = UUID.fromString("ffffffff-ffff-ffff-ffff-ffffffffffff");
    private final ColumnCipher cipher = new ColumnCipher(List.of(MasterKey.parse("k1:" + "05".repeat(32))));
    private final Credentials credentials = new Credentials(cipher);
    private final Instant now = Instant.now();
    private TestDatabase database;
    private Db db;
    private OneRouter router;
    private UUID gateway;
    private UUID listener;
    private UUID device;

    @BeforeEach
    void open() {
        database = TestDatabase.fresh();
        db = database.open();
        router = new OneRouter(db, now);
        gateway = router.gateway;
        listener = router.listener;
        device = router.device;
    }

    @AfterEach
    void close() {
        assertThat(db.busy()).isZero();
        db.close();
        database.close();
    }

    private UUID profile(String label, String address, String publicKey) {
        return router.profile(label, address, publicKey);
    }

    private UUID handout(UUID profile, String token, Duration life, int collections) {
        UUID id = Ids.next();
        db.run(tx -> Handouts.insert(
                tx,
                new Handouts.Draft(
                        id,
                        profile,
                        Revisions.of(tx, profile).get(0).id(),
                        token,
                        new Parcel(new byte[16], new byte[40]),
                        now,
                        now.plus(life),
                        collections)));
        return id;
    }

    private String handoutState(UUID profile) {
        return db.inTransaction(tx -> Profiles.byId(tx, profile))
                .orElseThrow()
                .handoutState()
                .orElse("none");
    }

    @Test
    void oneAddressBelongsToOneProfileUntilItIsReleased() {
        UUID first = profile("a", "10.99.0.2", "K1");
        assertThatThrownBy(() -> profile("b", "10.99.0.2", "K2")).isInstanceOf(ConflictException.class);
        assertThat(db.<Set<IpAddress>>inTransaction(tx -> ListenerProfiles.taken(tx, listener)))
                .containsExactly(IpAddress.parse("10.99.0.2"));

        db.run(tx -> Profiles.release(tx, List.of(first)));

        assertThat(db.inTransaction(tx -> Profiles.byId(tx, profile("a", "10.99.0.2", "K3")))
                        .orElseThrow()
                        .label())
                .isEqualTo("a");
    }

    @Test
    void oneKeyAtTwoListenersIsTwoProfiles() {
        UUID first = profile("a", "10.99.0.2", "SAME");
        UUID other = db.inTransaction(tx -> Listeners.put(
                tx,
                new Listeners.Listener(
                        Ids.next(),
                        gateway,
                        "",
                        "wg1",
                        "wireguard",
                        Transport.UDP,
                        new Port(51821),
                        "PUBLIC",
                        List.of(Cidr.parse("10.98.0.0/16")),
                        Optional.empty(),
                        List.of(),
                        true,
                        Optional.empty(),
                        1,
                        false)));
        UUID second = profile("b", "10.99.0.3", "SAME");
        db.run(tx -> Profiles.moveListener(tx, second, other));

        assertThat(users(listener)).containsExactly(new ListenerProfiles.KeyUser("SAME", first, ProfileOrigin.ISSUED));
        assertThat(users(other)).containsExactly(new ListenerProfiles.KeyUser("SAME", second, ProfileOrigin.ISSUED));
        assertThat(db.<Set<String>>inTransaction(tx -> ListenerProfiles.publicPartsAt(tx, other)))
                .containsExactly("SAME");
        assertThat(db.<Set<IpAddress>>inTransaction(tx -> ListenerProfiles.taken(tx, listener)))
                .containsExactly(IpAddress.parse("10.99.0.2"));
    }

    private List<ListenerProfiles.KeyUser> users(UUID of) {
        return db.inTransaction(tx -> ListenerProfiles.users(tx, of, List.of("SAME", "ANOTHER")));
    }

    @Test
    void aHandoutGoesFromPreparedToInUse() {
        UUID profile = profile("a", "10.99.0.2", "K1");
        assertThat(handoutState(profile)).isEqualTo("none");
        UUID handout = handout(profile, "t1", Duration.ofHours(1), 1);
        assertThat(handoutState(profile)).isEqualTo("prepared");
        db.run(tx -> Handouts.sent(tx, handout, now));
        assertThat(handoutState(profile)).isEqualTo("sent");
        assertThat(db.<Boolean>inTransaction(tx -> Pickups.collect(tx, handout, "t1", "192.0.2.1", now)))
                .isTrue();
        assertThat(handoutState(profile)).isEqualTo("collected");
        db.run(tx -> Sessions.put(
                tx,
                listener,
                List.of(new Sessions.Live(
                        Ids.next(),
                        "K1",
                        Optional.of(profile),
                        "192.0.2.1:5",
                        now.plusSeconds(5),
                        now.plusSeconds(5),
                        Optional.empty(),
                        100,
                        100))));

        assertThat(handoutState(profile)).isEqualTo("in use");
        assertThat(db.inTransaction(tx -> Handouts.byId(tx, handout))
                        .orElseThrow()
                        .state())
                .isEqualTo(HandoutState.IN_USE);
    }

    @Test
    void aLinkIsGoodOnceForItsTimeAndLosesItsParcelWithTheLastCollection() {
        UUID profile = profile("a", "10.99.0.2", "K1");
        UUID twice = handout(profile, "t1", Duration.ofHours(1), 2);
        handout(profile, "t2", Duration.ofHours(-1), 1);
        assertThat(db.<Optional<Pickups.Pickup>>inTransaction(tx -> Pickups.find(tx, "t2", now)))
                .as("ended")
                .isEmpty();
        assertThat(db.<Boolean>inTransaction(tx -> Pickups.collect(tx, twice, "t1", "s", now)))
                .isTrue();
        assertThat(db.<Optional<Pickups.Pickup>>inTransaction(tx -> Pickups.find(tx, "t1", now)))
                .isPresent();
        assertThat(db.<Boolean>inTransaction(tx -> Pickups.collect(tx, twice, "t1", "s", now)))
                .isTrue();

        assertThat(db.<Boolean>inTransaction(tx -> Pickups.collect(tx, twice, "t1", "s", now)))
                .isFalse();
        assertThat(db.<Optional<Pickups.Pickup>>inTransaction(tx -> Pickups.find(tx, "t1", now)))
                .isEmpty();
        assertThat(db.<List<Boolean>>inTransaction(tx -> tx.list(
                        "select parcel is null as gone from handout where token_digest = 't1'",
                        p -> p,
                        r -> r.flag("gone"))))
                .containsExactly(true);
    }

    @Test
    void withdrawnCredentialsAreErased() {
        UUID profile = profile("a", "10.99.0.2", "K1");
        UUID key =
                db.inTransaction(tx -> Profiles.byId(tx, profile)).orElseThrow().keyId();
        assertThat(db.<Optional<Secret>>inTransaction(tx -> credentials.secret(tx, key)))
                .contains(Secret.of("PRIVATE"));

        db.run(tx -> credentials.revokeOf(tx, profile));

        assertThat(db.<Optional<Secret>>inTransaction(tx -> credentials.secret(tx, key)))
                .isEmpty();
        assertThat(db.inTransaction(tx -> Profiles.byId(tx, profile))
                        .orElseThrow()
                        .custody())
                .isEqualTo(Custody.ERASED);
    }

    @Test
    void anIdempotencyKeyIsClaimedOnceAndRemembersItsAnswer() {
        Replays replays = new Replays(cipher);
        UUID operator = Ids.next();
        db.run(tx -> new Operators(cipher)
                .insert(tx, new Operators.Operator(operator, "o", "owner", "h", false, false, false, 1), now));
        assertThat(db.<Boolean>inTransaction(tx -> replays.claim(tx, operator, "key-1", "d", now)))
                .isTrue();
        assertThat(db.<Boolean>inTransaction(tx -> replays.claim(tx, operator, "key-1", "d", now)))
                .isFalse();
        assertThat(db.inTransaction(tx -> replays.find(tx, operator, "key-1"))
                        .orElseThrow()
                        .answer())
                .isEmpty();
        db.run(tx -> replays.answer(tx, operator, "key-1", 201, Secret.of("{}")));

        Replays.Replay replay =
                db.inTransaction(tx -> replays.find(tx, operator, "key-1")).orElseThrow();
        assertThat(replay.status()).contains(201);
        assertThat(replay.answer()).contains(Secret.of("{}"));
    }

    @Test
    void tenThousandProfilesAreCountedPagedAndSearchedQuickly() {
        profile("a", "10.99.0.2", "K1");
        db.run(tx -> tx.update("""
                with n as (select i, gen_random_uuid() as pid, gen_random_uuid() as kid from generate_series(1, 10000) as i),
                k as (insert into credential (id, kind, purpose, public_part, custody, state, created_at)
                      select kid, 'TUNNEL_KEY_PAIR', 'p', 'pk' || i, 'HELD', 'CREATED', now() from n),
                p as (insert into profile (id, label, origin, state, created_at) select pid, 'many-' || i, 'issued', 'ready', now() from n),
                s as (insert into session (id, listener_id, public_key, profile_id, endpoint, since, last_heard, received, sent)
                      select gen_random_uuid(), ?, 'pk' || i, pid, '', now(), now(), 1, 1 from n where i % 2 = 0)
                insert into profile_listener (profile_id, position, listener_id, key_id, reach, full_tunnel)
                select pid, 0, ?, kid, '{}', false from n""", p -> p.id(listener).id(listener)));
        db.run(tx -> tx.update("analyze", p -> p));
        Instant from = Instant.now();

        Line.Counts counts = db.inTransaction(Line::counts);
        List<Profiles.Profile> page =
                db.inTransaction(tx -> Profiles.page(tx, Standings.Filter.ALL, Slice.after("many-5", 200)));
        List<Search.Hit> hits = db.inTransaction(tx -> Search.find(tx, "many-99", 12));
        List<Sessions.Session> live =
                db.inTransaction(tx -> Sessions.page(tx, Sessions.Filter.LIVE, Slice.after(END, 200)));

        assertThat(counts.profiles()).isEqualTo(10_001);
        assertThat(counts.connected()).isEqualTo(5_000);
        assertThat(page).hasSize(200).isSortedAccordingTo(java.util.Comparator.comparing(Profiles.Profile::label));
        assertThat(hits).hasSize(12);
        assertThat(live).hasSize(200);
        assertThat(Duration.between(from, Instant.now()))
                .as("four questions over ten thousand")
                .isLessThan(Duration.ofSeconds(4));
    }
}
