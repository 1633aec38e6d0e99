package tender.store.change;

import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;
import tender.store.journal.By;

/** Changes of several gateways that are made together: all of them, or none. */
public final class ChangeSets {
    /** How far a set is. The database checks the same words. */
    public enum State {
        ORDERED,
        /** Its gateways are written, one after the other; each would bring back by itself what was there. */
        WRITING,
        /** All are written and right; the rollback is being called off. */
        KEEPING,
        KEPT,
        /** Nothing of it is active. */
        FAILED;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** A set; its changes are the {@link DeviceChanges#ofSet}. */
    public record ChangeSet(
            UUID id, State state, String note, String orderedBy, Instant orderedAt, Optional<Instant> endedAt) {}

    private ChangeSets() {}

    private static final String INSERT =
            "insert into change_set (id, state, ordered_by, ordered_at) values (?, 'ordered', ?, ?)";

    public static void insert(Tx tx, UUID id, By by) {
        tx.updateOne(INSERT, p -> p.id(id).text(by.actor()).instant(by.at()));
    }

    private static final String SELECT = "select id, state, note, ordered_by, ordered_at, ended_at from change_set ";

    public static Optional<ChangeSet> byId(Tx tx, UUID id) {
        return tx.first(SELECT + "where id = ?", p -> p.id(id), ChangeSets::set);
    }

    /** Newest first. */
    public static List<ChangeSet> newest(Tx tx, int limit) {
        return tx.list(SELECT + "order by ordered_at desc, id limit ?", p -> p.integer(limit), ChangeSets::set);
    }

    /** Neither kept nor failed. */
    public static List<ChangeSet> unfinished(Tx tx) {
        return tx.list(SELECT + "where ended_at is null order by ordered_at", p -> p, ChangeSets::set);
    }

    private static final String MOVE =
            "update change_set set state = ?, note = ?, ended_at = ? where id = ? and state = ?";

    /**
     * Whether it was moved: not where another node has moved it meanwhile.
     *
     * @param endedAt empty while something is still to come
     */
    public static boolean move(Tx tx, UUID id, State from, State to, String note, Optional<Instant> endedAt) {
        return tx.update(
                        MOVE,
                        p -> p.text(to.word())
                                .text(note)
                                .instant(endedAt)
                                .id(id)
                                .text(from.word()))
                > 0;
    }

    private static ChangeSet set(Row row) {
        return new ChangeSet(
                row.id("id"),
                State.valueOf(row.text("state").toUpperCase(Locale.ROOT)),
                row.text("note"),
                row.text("ordered_by"),
                row.instant("ordered_at"),
                row.optionalInstant("ended_at"));
    }
}
