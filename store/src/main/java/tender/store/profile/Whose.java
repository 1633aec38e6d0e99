package tender.store.profile;

import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Conditions;
import tender.store.jdbc.Tx;

/**
 * Narrows lists of what concerns profiles: handouts, trials, connections. What is empty does not narrow.
 *
 * @param profile its id
 * @param text a part of the profile's label, or of the person's name or handle
 * @param gateway its name
 * @param person the handle
 * @param team its name
 */
public record Whose(
        Optional<UUID> profile,
        Optional<String> text,
        Optional<String> gateway,
        Optional<String> person,
        Optional<String> team) {
    public static final Whose ALL =
            new Whose(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());

    public static Whose profile(UUID id) {
        return new Whose(Optional.of(id), Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
    }

    /** @param column the list's column that holds the profile's id */
    public void narrow(Tx tx, Conditions where, String column) {
        profile.ifPresent(id -> where.and(column + " = ?", p -> p.id(id)));
        Standings.text(tx, where, column, text);
        gateway.ifPresent(name -> where.and(
                column + " in (select pl.profile_id from profile_listener pl join listener l on l.id = pl.listener_id"
                        + " join gateway g on g.id = l.gateway_id where g.name = ? and g.archived_at is null)",
                p -> p.text(name)));
        person.ifPresent(handle -> where.and(
                column + " in (select p.id from profile p join device d on d.id = p.device_id"
                        + " join person n on n.id = d.person_id where n.handle = ?)",
                p -> p.text(handle)));
        team.ifPresent(name -> where.and(
                column + " in (select p.id from profile p join device d on d.id = p.device_id"
                        + " join person n on n.id = d.person_id join team t on t.id = n.team_id where t.name = ?)",
                p -> p.text(name)));
    }
}
