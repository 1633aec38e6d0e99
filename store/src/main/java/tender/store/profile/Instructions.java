package tender.store.profile;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.office.HandWork;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;
import tender.store.journal.By;

/** What somebody has to do by hand at a gateway for a profile; it stays until a reading or a trial shows it done. */
public final class Instructions {
    /**
     * An instruction.
     *
     * @param what the account's name, the certificate's serial, or the peer's public key
     * @param claimed when somebody said that it is done, where no trial has shown otherwise since
     * @param found what the last trial found, where one was made
     * @param asked who was asked to do it, where anybody was
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
            Instant askedAt,
            Optional<Instant> claimed,
            Optional<String> found,
            Optional<Asked> asked) {
        public String words() {
            return kind.words(gateway, what) + found.map(f -> "; " + f).orElse("");
        }
    }

    private Instructions() {}

    private static final String PUT = """
            insert into instruction (profile_id, kind, what, asked_at)
            values (?, ?, ?, ?)
            on conflict (profile_id) do update
            set kind = excluded.kind, what = excluded.what, asked_at = excluded.asked_at,
                claimed_by = null, claimed_at = null, checked_at = null, found = null, asked_of = null, sent_at = null""";

    public static void put(Tx tx, UUID profileId, HandWork kind, String what, Instant now) {
        tx.later(PUT, p -> p.id(profileId).text(kind.word()).text(what).instant(now));
    }

    private static final String DONE = "delete from instruction where profile_id = ?";

    public static void done(Tx tx, UUID profileId) {
        tx.update(DONE, p -> p.id(profileId));
    }

    private static final String CLAIM = "update instruction set claimed_by = ?, claimed_at = ? where profile_id = ?";

    /** Somebody says that it is done. */
    public static void claim(Tx tx, UUID profileId, By by) {
        tx.updateOne(CLAIM, p -> p.text(by.actor()).instant(by.at()).id(profileId));
    }

    private static final String CHECKED = """
            update instruction set checked_at = ?, found = ?, claimed_by = null, claimed_at = null
            where profile_id = ?""";

    /** A trial has shown that it is not done, or has shown nothing. */
    public static void checked(Tx tx, UUID profileId, String found, Instant now) {
        tx.update(CHECKED, p -> p.instant(now).text(found).id(profileId));
    }

    private static final String TO_CHECK = """
            select i.profile_id from instruction i
            join profile_listener l on l.profile_id = i.profile_id and l.position = 0
            join credential c on c.id = l.key_id and c.custody <> 'DEVICE_ONLY'
            where (select r.content is not null from profile_revision r
                   where r.profile_id = i.profile_id
                   order by r.number desc limit 1)
              and (i.checked_at is null
                   or i.checked_at < ?::timestamptz
                      - least(greatest((?::timestamptz - i.asked_at) / 12, interval '5 minutes'), interval '6 hours'))
            order by i.checked_at nulls first, i.asked_at
            limit ?""";

    /**
     * Those that a trial from here can check now with the file that is kept, longest unchecked first: each after a twelfth of its age, at least five minutes and
     * at most six hours apart.
     */
    public static List<UUID> toCheck(Tx tx, Instant now, int limit) {
        return tx.list(TO_CHECK, p -> p.instant(now).instant(now).integer(limit), row -> row.id("profile_id"));
    }

    private static final String LISTENER =
            "select listener_id from profile_listener where profile_id = ? and position = 0";

    /** Another profile of the same listener that should be let in; one that was, where there is one. */
    public static Optional<UUID> letIn(Tx tx, UUID profileId) {
        return tx.first(LISTENER, p -> p.id(profileId), row -> row.id("listener_id")).stream()
                .flatMap(listener -> ListenerProfiles.triable(tx, listener, 2).stream())
                .filter(id -> !id.equals(profileId))
                .findFirst();
    }

    private static final String ASKED = """
            update instruction i set asked_of = ?, sent_at = ?
            from profile_listener pl
            join listener l on l.id = pl.listener_id
            where pl.profile_id = i.profile_id and pl.position = 0 and l.gateway_id = ?""";

    /** Somebody was asked to do all that is open at a gateway. */
    public static void asked(Tx tx, UUID gatewayId, Asked asked) {
        tx.update(ASKED, p -> p.text(asked.of()).instant(asked.at()).id(gatewayId));
    }

    private static final String SELECT = """
            select i.profile_id, p.label, p.state, g.id as gateway_id, g.name as gateway, l.name as listener, i.kind, i.what,
                   i.asked_at, i.claimed_at, i.found, i.asked_of, i.sent_at
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
                row.instant("asked_at"),
                row.optionalInstant("claimed_at"),
                row.optionalText("found"),
                Asked.of(row));
    }
}
