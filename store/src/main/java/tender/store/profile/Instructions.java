package tender.store.profile;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.office.HandWork;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** What somebody has to do by hand at a gateway for a profile; it stays until a reading or a trial shows it done. */
public final class Instructions {
    /**
     * An instruction.
     *
     * @param what the account's name, the certificate's serial, or the peer's public key
     */
    public record Instruction(
            UUID profileId,
            String label,
            ProfileState state,
            UUID gatewayId,
            String gateway,
            String listener,
            HandWork kind,
            String what,
            Instant askedAt) {
        public String words() {
            return kind.words(gateway, what);
        }
    }

    private Instructions() {}

    private static final String PUT = """
            insert into instruction (profile_id, kind, what, asked_at)
            values (?, ?, ?, ?)
            on conflict (profile_id) do update set kind = excluded.kind, what = excluded.what, asked_at = excluded.asked_at""";

    public static void put(Tx tx, UUID profileId, HandWork kind, String what, Instant now) {
        tx.later(PUT, p -> p.id(profileId).text(kind.word()).text(what).instant(now));
    }

    private static final String DONE = "delete from instruction where profile_id = ?";

    public static void done(Tx tx, UUID profileId) {
        tx.update(DONE, p -> p.id(profileId));
    }

    private static final String SELECT = """
            select i.profile_id, p.label, p.state, g.id as gateway_id, g.name as gateway, l.name as listener, i.kind, i.what,
                   i.asked_at
            from instruction i
            join profile p on p.id = i.profile_id
            join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            join listener l on l.id = pl.listener_id
            join gateway g on g.id = l.gateway_id
            """;

    public static Optional<Instruction> of(Tx tx, UUID profileId) {
        return tx.first(SELECT + "where i.profile_id = ?", p -> p.id(profileId), Instructions::row);
    }

    public static List<Instruction> atGateway(Tx tx, UUID gatewayId) {
        return tx.list(SELECT + "where g.id = ? order by i.asked_at", p -> p.id(gatewayId), Instructions::row);
    }

    /** Oldest first. */
    public static List<Instruction> all(Tx tx, int limit) {
        return tx.list(SELECT + "order by i.asked_at, p.label limit ?", p -> p.integer(limit), Instructions::row);
    }

    private static Instruction row(Row row) {
        return new Instruction(
                row.id("profile_id"),
                row.text("label"),
                ProfileState.of(row.text("state")),
                row.id("gateway_id"),
                row.text("gateway"),
                row.text("listener"),
                HandWork.of(row.text("kind")),
                row.text("what"),
                row.instant("asked_at"));
    }
}
