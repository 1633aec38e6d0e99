package tender.store.operator;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** Browser sign-ins and client tokens, by digest. */
public final class SignIns {
    /** A valid sign-in with the account behind it. */
    public record SignIn(
            UUID id,
            UUID operatorId,
            String operator,
            String role,
            boolean mustChange,
            String kind,
            String label,
            Instant createdAt,
            Instant expiresAt,
            Instant freshUntil,
            boolean readOnly,
            boolean enrolOnly,
            Optional<UUID> personId) {}

    private SignIns() {}

    private static SignIn signIn(Row row) {
        return new SignIn(
                row.id("id"),
                row.id("operator_id"),
                row.text("name"),
                row.text("role"),
                row.flag("must_change"),
                row.text("kind"),
                row.text("label"),
                row.instant("created_at"),
                row.instant("expires_at"),
                row.instant("fresh_until"),
                row.text("scope").equals("read"),
                row.flag("enrol_only"),
                row.optionalId("person_id"));
    }

    private static final String INSERT = """
            insert into sign_in (digest, id, operator_id, kind, label, created_at, expires_at, fresh_until, scope, enrol_only)
            values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";

    /** What a sign-in is for: by a browser or a client, to read or to operate, or only to set up the second factor. */
    public record Purpose(String kind, String label, boolean readOnly, boolean enrolOnly) {}

    /**
     * A sign-in that begins.
     *
     * @param digest of its token, which is stored nowhere
     * @param freshUntil until when the password is not asked for again
     */
    public record Draft(
            String digest,
            UUID id,
            UUID operatorId,
            Purpose purpose,
            Instant createdAt,
            Instant expiresAt,
            Instant freshUntil) {}

    public static void insert(Tx tx, Draft d) {
        tx.updateOne(
                INSERT,
                p -> p.text(d.digest())
                        .id(d.id())
                        .id(d.operatorId())
                        .text(d.purpose().kind())
                        .text(d.purpose().label())
                        .instant(d.createdAt())
                        .instant(d.expiresAt())
                        .instant(d.freshUntil())
                        .text(d.purpose().readOnly() ? "read" : "operate")
                        .flag(d.purpose().enrolOnly()));
    }

    private static final String SELECT = """
            select s.id, s.operator_id, o.name, o.role, o.must_change, s.kind, s.label, s.created_at, s.expires_at,
                   s.fresh_until, s.scope, s.enrol_only, p.id as person_id
            from sign_in s
            join operator o on o.id = s.operator_id
            left join person p on p.operator_id = o.id and p.archived_at is null
            """;
    private static final String BY_DIGEST =
            SELECT + "where s.digest = ? and s.expires_at > ? and o.disabled_at is null";

    /**
     * @param digest of the token, which is stored nowhere
     * @return empty where it has ended, or its operator is disabled
     */
    public static Optional<SignIn> find(Tx tx, String digest, Instant now) {
        return tx.first(BY_DIGEST, p -> p.text(digest).instant(now), SignIns::signIn);
    }

    private static final String OF_OPERATOR =
            SELECT + "where s.operator_id = ? and s.expires_at > ? order by s.created_at";

    public static List<SignIn> of(Tx tx, UUID operatorId, Instant now) {
        return tx.list(OF_OPERATOR, p -> p.id(operatorId).instant(now), SignIns::signIn);
    }

    private static final String DELETE = "delete from sign_in where id = ? and operator_id = ?";

    public static int delete(Tx tx, UUID id, UUID operatorId) {
        return tx.update(DELETE, p -> p.id(id).id(operatorId));
    }

    private static final String DELETE_OTHERS =
            "delete from sign_in where operator_id = ? and (?::uuid is null or id <> ?) returning id";

    /** Ends all sign-ins of an operator, but one where it is given; gives which ended. */
    public static List<UUID> deleteOthers(Tx tx, UUID operatorId, Optional<UUID> keep) {
        return tx.list(DELETE_OTHERS, p -> p.id(operatorId).id(keep).id(keep), row -> row.id("id"));
    }

    private static final String FRESH = "update sign_in set fresh_until = ? where id = ?";

    /** Whoever signed in has proven anew who they are. */
    public static void fresh(Tx tx, UUID id, Instant until) {
        tx.updateOne(FRESH, p -> p.instant(until).id(id));
    }

    private static final String ENROLLED = "update sign_in set enrol_only = false where id = ?";

    public static void enrolled(Tx tx, UUID id) {
        tx.updateOne(ENROLLED, p -> p.id(id));
    }

    private static final String PURGE = "delete from sign_in where expires_at < ? returning id";

    /** Forgets those that have expired; gives which. */
    public static List<UUID> purge(Tx tx, Instant now) {
        return tx.list(PURGE, p -> p.instant(now), row -> row.id("id"));
    }
}
