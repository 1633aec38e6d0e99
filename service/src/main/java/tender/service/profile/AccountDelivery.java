package tender.service.profile;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.ProblemCode;
import tender.core.credential.Secret;
import tender.io.gateway.Session;
import tender.service.device.Connections;
import tender.service.gateway.ArmedRollback;
import tender.service.http.ApiFailure;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.session.Watch;
import tender.store.credential.Credentials;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Writers;
import tender.store.profile.Profiles;

/**
 * Sets the accounts of callers at a gateway that the records want there, and drops those whose profiles are withdrawn: all of
 * them in one write, which may be made again without harm. An account is for its tunnel alone.
 */
public final class AccountDelivery implements JobKind {
    private static final String NAME = "account-delivery";
    private static final Duration WRITER_LEASE = Duration.ofSeconds(60);

    private final Db db;
    private final Clock clock;
    private final String node;
    private final String installation;
    private final Credentials credentials;
    private final Connections connections;

    public AccountDelivery(
            Db db, Clock clock, String node, String installation, Credentials credentials, Connections connections) {
        this.db = db;
        this.clock = clock;
        this.node = node;
        this.installation = installation;
        this.credentials = credentials;
        this.connections = connections;
    }

    static Jobs.Order order(UUID gatewayId) {
        return Jobs.Order.once(NAME, gatewayId.toString(), "gateway:" + gatewayId);
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public Lane lane() {
        return Lane.INTERACTIVE;
    }

    private static String account(Profiles.Profile p) {
        return p.publicKey().substring(Watch.BY_NAME.length());
    }

    /** The credential that holds an account's password: the profile's own, or the one beside its certificate. */
    static UUID passwordId(Profiles.Profile p) {
        return p.presharedId().orElse(p.keyId());
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        deliver(UUID.fromString(job.payload()), progress::at);
    }

    /** Hears how far a write is. */
    @FunctionalInterface
    public interface Steps {
        void at(int percent, String note);
    }

    /** Does all that is wanted now; nothing wanted is no work. */
    public void deliver(UUID gatewayId, Steps progress) {
        List<Profiles.Profile> leaving =
                db.inTransaction(tx -> Profiles.accounts(tx, gatewayId, "withdrawing")).stream()
                        .filter(p ->
                                p.presharedId().isEmpty()) // those beside a certificate go with the revocation list
                        .toList();
        write(gatewayId, db.inTransaction(tx -> Profiles.accounts(tx, gatewayId, "writing")), leaving, progress);
    }

    /**
     * Brings the accounts at a gateway to what the records say, whatever is wanted: those of ready profiles that are missing
     * there are set, those of withdrawn profiles that are there are dropped.
     */
    public void restore(UUID gatewayId, Set<String> present, Steps progress) {
        Map<Boolean, List<Profiles.Profile>> byLife =
                db.inTransaction(tx -> Profiles.accounts(tx, gatewayId, "ready").stream()
                        .collect(Collectors.partitioningBy(p -> Credentials.isExpired(tx, p.id()))));
        List<Profiles.Profile> ready = byLife.get(false);
        Set<String> wanted = ready.stream().map(AccountDelivery::account).collect(Collectors.toSet());
        db.inTransaction(tx -> Profiles.accounts(tx, gatewayId, "writing")).forEach(p -> wanted.add(account(p)));
        List<Profiles.Profile> leaving = new ArrayList<>(byLife.get(true));
        for (String state : List.of("withdrawn", "withdrawing", "failed")) {
            leaving.addAll(db.inTransaction(tx -> Profiles.accounts(tx, gatewayId, state)));
        }
        leaving.removeIf(p -> !present.contains(account(p)) || wanted.contains(account(p)));
        write(
                gatewayId,
                ready.stream().filter(p -> !present.contains(account(p))).toList(),
                leaving,
                progress);
        deliver(gatewayId, progress);
    }

    private void write(UUID gatewayId, List<Profiles.Profile> adding, List<Profiles.Profile> leaving, Steps progress) {
        if (adding.isEmpty() && leaving.isEmpty()) {
            return;
        }
        Instant now = clock.instant();
        Map<UUID, Secret> secrets = db.inTransaction(tx -> credentials.secrets(
                tx, adding.stream().map(AccountDelivery::passwordId).toList()));
        long fence = db.inTransaction(tx -> Writers.acquire(tx, gatewayId, node, now, now.plus(WRITER_LEASE)))
                .orElseThrow(() -> new ApiFailure(ProblemCode.CONFLICT, "another node is writing this gateway"));
        try (Session session = connections.open(gatewayId)) {
            ArmedRollback.callOff(db, session, gatewayId);
            progress.at(40, adding.size() + " accounts to set, " + leaving.size() + " to drop");
            session.accounts(
                    adding.stream()
                            .filter(p -> secrets.containsKey(passwordId(p)))
                            .map(p -> new Session.Account(account(p), secrets.get(passwordId(p))))
                            .toList(),
                    leaving.stream().map(AccountDelivery::account).distinct().toList(),
                    new Session.Hold(installation, fence));
        }
        db.run(tx -> {
            adding.forEach(p -> Profiles.ready(tx, p.id()));
            List<Profiles.Profile> gone =
                    leaving.stream().filter(p -> p.presharedId().isEmpty()).toList();
            settle(tx, gone, "withdrawing", "withdrawn", Optional.empty());
            Profiles.release(tx, Profiles.those(tx, ids(gone), "withdrawn"));
            Journal.append(
                    tx,
                    clock.instant(),
                    "tender",
                    "accounts-delivered",
                    "gateway",
                    gatewayId.toString(),
                    adding.size() + " set, " + leaving.size() + " dropped");
            adding.forEach(p -> Events.say(tx, "profile", p.id().toString()));
        });
        db.run(tx -> Writers.hold(tx, gatewayId, fence, clock.instant()));
    }

    private static String names(List<Profiles.Profile> all) {
        return all.isEmpty()
                ? "none"
                : all.stream().map(AccountDelivery::account).collect(Collectors.joining(", "));
    }

    private static List<UUID> ids(List<Profiles.Profile> all) {
        return all.stream().map(Profiles.Profile::id).toList();
    }

    private static void settle(Tx tx, List<Profiles.Profile> all, String from, String to, Optional<String> problem) {
        Profiles.move(tx, ids(all), Set.of(from), to, problem);
        all.forEach(p -> Events.say(tx, "profile", p.id().toString()));
    }

    /** Where the gateway takes no accounts, new profiles have failed; those that leave wait, and say why. */
    @Override
    public void gaveUp(Jobs.Job job, String why) {
        UUID gatewayId = UUID.fromString(job.payload());
        db.run(tx -> {
            settle(tx, Profiles.accounts(tx, gatewayId, "writing"), "writing", "failed", Optional.of(why));
            settle(
                    tx,
                    Profiles.accounts(tx, gatewayId, "withdrawing"),
                    "withdrawing",
                    "withdrawing",
                    Optional.of(why + "; withdraw it again"));
        });
    }
}
