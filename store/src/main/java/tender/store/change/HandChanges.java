package tender.store.change;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.profile.Asked;

/** Changes that somebody has to make by hand at a gateway; each stays until a reading or a trial shows it. */
public final class HandChanges {
    /**
     * A change that is open.
     *
     * @param changes JSON of the list of changes
     * @param before what the gateway said of itself, or was known of it, when the change was ordered; JSON
     * @param wanted the same with the change made; JSON
     * @param entered whether it stands in what is known of the gateway already, since somebody said that it is done
     * @param orderedBy name of whoever wants it
     * @param claimed who said that it is done, where no trial has shown otherwise since
     * @param found what the last trial found, where one was made
     */
    public record HandChange(
            UUID id,
            UUID gatewayId,
            String gateway,
            String changes,
            String words,
            String before,
            String wanted,
            String why,
            String orderedBy,
            Instant orderedAt,
            boolean entered,
            Optional<String> claimed,
            Optional<String> found,
            Optional<Asked> asked) {}

    private HandChanges() {}

    private static final String INSERT =
            "insert into hand_change (change_id, before, wanted, why) values (?, ?::jsonb, ?::jsonb, ?)";

    /**
     * Keeps what somebody has to do.
     *
     * @param changeId of a change in state {@link ChangeState#BY_HAND}
     * @param why what it is for, for whoever does it
     */
    public static void insert(Tx tx, UUID changeId, String before, String wanted, String why) {
        tx.updateOne(INSERT, p -> p.id(changeId).text(before).text(wanted).text(why));
    }

    private static final String SELECT = """
            select c.id, c.gateway_id, g.name as gateway, c.changes::text as changes, c.words, h.before::text as before,
                   h.wanted::text as wanted, h.why, coalesce(o.name, c.ordered_by) as ordered_by, c.ordered_at,
                   h.entered_at is not null as entered, coalesce(s.name, h.claimed_by) as claimed_by,
                   h.found, h.asked_of, h.sent_at
            from hand_change h
            join device_change c on c.id = h.change_id and c.state = 'by-hand'
            join gateway g on g.id = c.gateway_id
            left join operator o on 'operator:' || o.id = c.ordered_by
            left join operator s on 'operator:' || s.id = h.claimed_by
            """;

    public static Optional<HandChange> byId(Tx tx, UUID id) {
        return tx.first(SELECT + "where c.id = ?", p -> p.id(id), HandChanges::row);
    }

    /** Oldest first. */
    public static List<HandChange> atGateway(Tx tx, UUID gatewayId) {
        return tx.list(SELECT + "where c.gateway_id = ? order by c.ordered_at", p -> p.id(gatewayId), HandChanges::row);
    }

    /** Oldest first. */
    public static List<HandChange> all(Tx tx, int limit) {
        return tx.list(SELECT + "order by c.ordered_at limit ?", p -> p.integer(limit), HandChanges::row);
    }

    private static final String CLAIM = """
            update hand_change
            set claimed_by = ?, claimed_at = ?, entered_at = coalesce(entered_at, case when ? then ?::timestamptz end)
            where change_id = ?""";

    /**
     * Somebody says that it is done.
     *
     * @param entered whether what is known of the gateway was changed with it
     */
    public static void claim(Tx tx, UUID id, boolean entered, By by) {
        tx.updateOne(
                CLAIM,
                p -> p.text(by.actor())
                        .instant(by.at())
                        .flag(entered)
                        .instant(by.at())
                        .id(id));
    }

    private static final String FOUND =
            "update hand_change set found = ?, claimed_by = null, claimed_at = null where change_id = ?";

    /** A trial has shown that it is not done, or has shown nothing. */
    public static void found(Tx tx, UUID id, String found) {
        tx.updateOne(FOUND, p -> p.text(found).id(id));
    }

    private static final String ASKED = """
            update hand_change h set asked_of = ?, sent_at = ?
            from device_change c
            where c.id = h.change_id and c.state = 'by-hand' and c.gateway_id = ?""";

    /** Somebody was asked to make all that are open at a gateway. */
    public static void asked(Tx tx, UUID gatewayId, Asked asked) {
        tx.update(ASKED, p -> p.text(asked.of()).instant(asked.at()).id(gatewayId));
    }

    private static final String UNSENT = """
            select g.id
            from gateway g
            where g.contact <> '' and g.archived_at is null
              and (exists (select 1 from hand_change h
                           join device_change c on c.id = h.change_id and c.state = 'by-hand'
                           where c.gateway_id = g.id and h.asked_of is null)
                   or exists (select 1 from instruction i
                              join profile_listener pl on pl.profile_id = i.profile_id and pl.position = 0
                              join listener l on l.id = pl.listener_id
                              where l.gateway_id = g.id and i.asked_of is null)
                   or exists (select 1 from file_request r where r.gateway_id = g.id and r.asked_of is null))
            order by g.name
            limit ?""";

    /** Gateways with a contact that was not asked yet for something that is open there. */
    public static List<UUID> toAsk(Tx tx, int limit) {
        return tx.list(UNSENT, p -> p.integer(limit), row -> row.id("id"));
    }

    private static HandChange row(Row row) {
        return new HandChange(
                row.id("id"),
                row.id("gateway_id"),
                row.text("gateway"),
                row.text("changes"),
                row.text("words"),
                row.text("before"),
                row.text("wanted"),
                row.text("why"),
                row.text("ordered_by"),
                row.instant("ordered_at"),
                row.flag("entered"),
                row.optionalText("claimed_by"),
                row.optionalText("found"),
                Asked.of(row));
    }
}
