package tender.store.provision;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Tx;

/**
 * All that the listener for devices may ask of the database. Each is a function of the database, so that the listener's own role can
 * read no table.
 */
public final class DeviceCalls {
    /** A provisioning file by its token. */
    public record Provision(
            UUID id,
            Optional<UUID> personId,
            Optional<UUID> deviceId,
            Optional<String> deviceName,
            boolean ofTeam,
            Instant ends,
            boolean withdrawn) {}

    /** Who joins; {@code codeHash} of the code that they were told. */
    public record Person(UUID id, Optional<String> codeHash) {}

    /** A device that calls. */
    public record Device(
            byte[] signingKey, EnrolmentState state, String etag, Instant seenAt, Optional<String> problem) {}

    /** What waits for it. */
    public record Delivery(UUID profileId, int revision, int position, byte[] sealed) {}

    private DeviceCalls() {}

    private static final String PROVISION =
            "select id, person_id, device_id, device_name, team_id, ends_at, withdrawn from staff_provision(?)";

    public static Optional<Provision> provision(Tx tx, String tokenDigest) {
        return tx.first(
                PROVISION,
                p -> p.text(tokenDigest),
                row -> new Provision(
                        row.id("id"),
                        row.optionalId("person_id"),
                        row.optionalId("device_id"),
                        row.optionalText("device_name"),
                        row.optionalId("team_id").isPresent(),
                        row.instant("ends_at"),
                        row.flag("withdrawn")));
    }

    private static final String PERSON = "select person_id, hash from staff_provision_person(?, ?)";

    /** @param handle counts where the file is a team's */
    public static Optional<Person> person(Tx tx, UUID provision, Optional<String> handle) {
        return tx.first(
                PERSON,
                p -> p.id(provision).text(handle),
                row -> new Person(row.id("person_id"), row.optionalText("hash")));
    }

    /** A device as it presents itself, with the keys that it made. */
    public record Joining(
            UUID id,
            UUID provision,
            UUID person,
            Optional<UUID> device,
            String name,
            String system,
            byte[] signingKey,
            byte[] sealingKey) {}

    private static final String ENROL = "select staff_enrol(?, ?, ?, ?, ?, ?, ?, ?, ?) as id";

    /** The enrolment of this key, now or before; empty where the file was used with another key. */
    public static Optional<UUID> enrol(Tx tx, Joining j, Instant now) {
        return tx.first(
                        ENROL,
                        p -> p.id(j.id())
                                .id(j.provision())
                                .id(j.person())
                                .id(j.device())
                                .text(j.name())
                                .text(j.system())
                                .bytes(j.signingKey())
                                .bytes(j.sealingKey())
                                .instant(now),
                        row -> row.optionalId("id"))
                .flatMap(id -> id);
    }

    private static final String DEVICE = "select signing_key, state, etag, seen_at, problem from staff_device(?)";

    public static Optional<Device> device(Tx tx, UUID enrolment) {
        return tx.first(
                DEVICE,
                p -> p.id(enrolment),
                row -> new Device(
                        row.bytes("signing_key"),
                        EnrolmentState.of(row.text("state")),
                        row.text("etag"),
                        row.instant("seen_at"),
                        row.optionalText("problem")));
    }

    private static final String SEEN = "select staff_device_seen(?, ?)::text as done";

    public static void seen(Tx tx, UUID enrolment, Instant now) {
        tx.list(SEEN, p -> p.id(enrolment).instant(now), row -> row.optionalText("done"));
    }

    private static final String DELIVERIES =
            "select profile_id, revision, \"position\", sealed from staff_deliveries(?)";

    public static List<Delivery> deliveries(Tx tx, UUID enrolment) {
        return tx.list(
                DELIVERIES,
                p -> p.id(enrolment),
                row -> new Delivery(
                        row.id("profile_id"), row.integer("revision"), row.integer("position"), row.bytes("sealed")));
    }

    /** What a device says of a profile: the revision that it holds, and whether it connects with it. */
    public record Report(UUID profile, int revision, Optional<Boolean> works, String words) {}

    private static final String REPORT = "select staff_device_report(?, ?, ?, ?, ?, ?)::text as done";

    public static void report(Tx tx, UUID enrolment, Report r, Instant now) {
        tx.list(
                REPORT,
                p -> p.id(enrolment)
                        .id(r.profile())
                        .integer(r.revision())
                        .flag(r.works())
                        .text(r.words())
                        .instant(now),
                row -> row.optionalText("done"));
    }

    private static final String LEFT = "select staff_device_left(?)::text as done";

    public static void left(Tx tx, UUID enrolment) {
        tx.list(LEFT, p -> p.id(enrolment), row -> row.optionalText("done"));
    }
}
