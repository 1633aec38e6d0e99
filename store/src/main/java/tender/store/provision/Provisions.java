package tender.store.provision;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** Provisioning files that were made. A token is known only by its digest. */
public final class Provisions {
    /**
     * One that is made.
     *
     * @param personId whose device it is for, with {@code deviceId}; both empty for a team
     * @param codes hashes of the codes that people were told another way, by person; empty: the token alone lets in
     * @param listeners that profiles are made for, in order of priority
     */
    public record Draft(
            UUID id,
            String tokenDigest,
            Optional<UUID> personId,
            Optional<UUID> deviceId,
            Optional<String> team,
            String createdBy,
            Instant createdAt,
            Instant ends,
            Map<UUID, String> codes,
            List<UUID> listeners) {}

    /**
     * One that was made.
     *
     * @param joined how many devices joined with it
     */
    public record Provision(
            UUID id,
            Optional<String> person,
            Optional<String> device,
            Optional<String> team,
            String createdBy,
            Instant createdAt,
            Instant ends,
            Optional<Instant> withdrawnAt,
            boolean asksCode,
            int joined) {}

    private Provisions() {}

    private static final String INSERT = """
            insert into provision (id, token_digest, person_id, device_id, team_id, created_by, created_at, ends_at)
            values (?, ?, ?, ?, (select id from team where name = ?), ?, ?, ?)""";
    private static final String CODE = "insert into provision_code (provision_id, person_id, hash) values (?, ?, ?)";
    private static final String LISTENER =
            "insert into provision_listener (provision_id, position, listener_id) values (?, ?, ?)";

    public static void insert(Tx tx, Draft d) {
        tx.updateOne(
                INSERT,
                p -> p.id(d.id())
                        .text(d.tokenDigest())
                        .id(d.personId())
                        .id(d.deviceId())
                        .text(d.team())
                        .text(d.createdBy())
                        .instant(d.createdAt())
                        .instant(d.ends()));
        d.codes()
                .forEach((person, hash) ->
                        tx.later(CODE, p -> p.id(d.id()).id(person).text(hash)));
        for (int i = 0; i < d.listeners().size(); i++) {
            int position = i;
            tx.later(
                    LISTENER,
                    p -> p.id(d.id()).integer(position).id(d.listeners().get(position)));
        }
    }

    private static final String SELECT = """
            select p.id, n.handle, d.name as device, t.name as team, coalesce(o.name, p.created_by) as created_by, p.created_at, p.ends_at,
                   p.withdrawn_at, exists (select 1 from provision_code c where c.provision_id = p.id) as asks_code,
                   (select count(*) from enrolment e where e.provision_id = p.id)::int as joined
            from provision p
            left join person n on n.id = p.person_id
            left join device d on d.id = p.device_id
            left join team t on t.id = p.team_id
            left join operator o on o.id::text = p.created_by
            """;

    /** Newest first, before one. */
    public static List<Provision> page(Tx tx, UUID before, int limit) {
        return tx.list(
                SELECT + "where p.id < ? order by p.id desc limit ?",
                p -> p.id(before).integer(limit),
                Provisions::provision);
    }

    public static Optional<Provision> byId(Tx tx, UUID id) {
        return tx.first(SELECT + "where p.id = ?", p -> p.id(id), Provisions::provision);
    }

    private static Provision provision(Row row) {
        return new Provision(
                row.id("id"),
                row.optionalText("handle"),
                row.optionalText("device"),
                row.optionalText("team"),
                row.text("created_by"),
                row.instant("created_at"),
                row.instant("ends_at"),
                row.optionalInstant("withdrawn_at"),
                row.flag("asks_code"),
                row.integer("joined"));
    }

    private static final String WITHDRAW = "update provision set withdrawn_at = coalesce(withdrawn_at, ?) where id = ?";

    /** Nobody joins with it from now on; who has joined stays. */
    public static void withdraw(Tx tx, UUID id, Instant now) {
        tx.updateOne(WITHDRAW, p -> p.instant(now).id(id));
    }

    private static final String LISTENERS =
            "select listener_id from provision_listener where provision_id = ? order by position";

    /** The listeners that whoever joins gets profiles of, in order of priority. */
    public static List<UUID> listeners(Tx tx, UUID id) {
        return tx.list(LISTENERS, p -> p.id(id), row -> row.id("listener_id"));
    }
}
