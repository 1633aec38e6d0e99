package tender.store.person;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Conditions;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Like;
import tender.store.jdbc.Params;
import tender.store.jdbc.Row;
import tender.store.jdbc.Slice;
import tender.store.jdbc.Tx;

/** Staff, by handle; teams come into being when first named. */
public final class People {
    /**
     * A member of staff.
     *
     * @param language of what is handed out, as an ISO 639 code; empty for the browser's of whoever collects
     */
    public record Person(
            UUID id,
            String handle,
            String name,
            String mail,
            Optional<String> team,
            Optional<String> language,
            int devices,
            Instant createdAt,
            int version) {}

    /** What a person connects with. */
    public record Device(UUID id, UUID personId, String person, String name, String kind, String system, int version) {}

    private People() {}

    private static final String ENSURE_TEAM = "insert into team (id, name) values (?, ?) on conflict (name) do nothing";
    private static final String INSERT = """
            insert into person (id, handle, name, mail, team_id, language, created_at)
            values (?, ?, ?, ?, (select id from team where name = ?), ?, ?)""";

    public static void insert(Tx tx, Person person) {
        person.team()
                .ifPresent(team -> tx.update(ENSURE_TEAM, p -> p.id(Ids.next()).text(team)));
        tx.updateOne(
                INSERT,
                p -> p.id(person.id())
                        .text(person.handle())
                        .text(person.name())
                        .text(person.mail())
                        .text(person.team())
                        .text(person.language())
                        .instant(person.createdAt()));
    }

    private static final String SELECT = """
            select p.id, p.handle, p.name, p.mail, t.name as team, p.language, p.created_at, p.version,
                   (select count(*) from device d where d.person_id = p.id and d.archived_at is null) as devices
            from person p
            left join team t on t.id = p.team_id
            """;
    private static final String BY_HANDLE = SELECT + "where p.handle = ? and p.archived_at is null";
    private static final String BY_ID = SELECT + "where p.id = ?";

    /** All, by handle. */
    public static List<Person> all(Tx tx) {
        return page(tx, Optional.empty(), Optional.empty(), Slice.after("", Integer.MAX_VALUE));
    }

    /** What the list can be sorted by. */
    public static final Map<String, String> SORTS = Map.of(
            "name", "p.name",
            "handle", "p.handle",
            "team", "t.name",
            "mail", "p.mail",
            "devices", "select count(*) from device d where d.person_id = p.id");

    /**
     * By handle, or as asked for.
     *
     * @param text a part of name, handle or mail address
     * @param team its name
     */
    public static List<Person> page(Tx tx, Optional<String> text, Optional<String> team, Slice<String> slice) {
        Conditions where = new Conditions().and("p.archived_at is null", p -> p);
        slice.narrow(where, "p.handle > ?", Params::text);
        team.ifPresent(name -> where.and("t.name = ?", p -> p.text(name)));
        text.map(Like::containing)
                .ifPresent(like -> where.and(
                        "p.name ilike ? or p.handle ilike ? or p.mail ilike ?",
                        p -> p.text(like).text(like).text(like)));
        return tx.listPlanned(
                SELECT + "where " + where.sql() + slice.end("p.handle"),
                p -> slice.fill(where.fill(p)),
                People::person);
    }

    /** How many people a team has. */
    public record Team(String name, int people) {}

    private static final String TEAMS = """
            select t.name, count(p.id)::int as people
            from team t left join person p on p.team_id = t.id and p.archived_at is null
            where t.name > ?
            group by t.name order by t.name limit ?""";

    /** By name, after one. */
    public static List<Team> teams(Tx tx, String after, int limit) {
        return tx.list(
                TEAMS, p -> p.text(after).integer(limit), row -> new Team(row.text("name"), row.integer("people")));
    }

    private static final String RENAME_TEAM = "update team set name = ? where name = ?";

    /** Whether there was such a team. */
    public static boolean renameTeam(Tx tx, String team, String name) {
        return tx.update(RENAME_TEAM, p -> p.text(name).text(team)) > 0;
    }

    private static final String OF_TEAM = SELECT + "where t.name = ? and p.archived_at is null order by p.handle";

    public static List<Person> ofTeam(Tx tx, String team) {
        return tx.list(OF_TEAM, p -> p.text(team), People::person);
    }

    public static Optional<Person> byHandle(Tx tx, String handle) {
        return tx.first(BY_HANDLE, p -> p.text(handle), People::person);
    }

    public static Optional<Person> byId(Tx tx, UUID id) {
        return tx.first(BY_ID, p -> p.id(id), People::person);
    }

    private static Person person(Row row) {
        return new Person(
                row.id("id"),
                row.text("handle"),
                row.text("name"),
                row.text("mail"),
                row.optionalText("team"),
                row.optionalText("language"),
                row.integer("devices"),
                row.instant("created_at"),
                row.integer("version"));
    }

    private static final String SET = """
            update person
            set handle = ?, name = ?, mail = ?, team_id = (select id from team where name = ?), language = ?, version = version + 1
            where id = ? and version = ?""";

    /** Writes a person as changed; fails where somebody else changed them since that version was read. */
    public static void set(Tx tx, Person changed) {
        changed.team()
                .ifPresent(t -> tx.update(ENSURE_TEAM, p -> p.id(Ids.next()).text(t)));
        tx.updateOne(
                SET,
                p -> p.text(changed.handle())
                        .text(changed.name())
                        .text(changed.mail())
                        .text(changed.team())
                        .text(changed.language())
                        .id(changed.id())
                        .integer(changed.version()));
    }

    private static final String INSERT_DEVICE =
            "insert into device (id, person_id, name, kind, system) values (?, ?, ?, ?, ?)";

    public static void insert(Tx tx, Device d) {
        tx.updateOne(
                INSERT_DEVICE,
                p -> p.id(d.id()).id(d.personId()).text(d.name()).text(d.kind()).text(d.system()));
    }

    private static final String SET_DEVICE =
            "update device set name = ?, kind = ?, system = ?, version = version + 1 where id = ? and archived_at is null";

    /** Writes a device as changed. */
    public static void set(Tx tx, Device changed) {
        tx.updateOne(
                SET_DEVICE,
                p -> p.text(changed.name())
                        .text(changed.kind())
                        .text(changed.system())
                        .id(changed.id()));
    }

    private static final String SELECT_DEVICE = """
            select d.id, d.person_id, p.handle, d.name, d.kind, d.system, d.version
            from device d
            join person p on p.id = d.person_id
            """;
    private static final String DEVICES_OF =
            SELECT_DEVICE + "where d.person_id = any(?) and d.archived_at is null order by d.name";
    private static final String DEVICE_BY_ID = SELECT_DEVICE + "where d.id = ?";

    public static List<Device> devices(Tx tx, Collection<UUID> personIds) {
        return tx.list(DEVICES_OF, p -> p.ids(personIds), People::device);
    }

    private static final String DEVICE_NAMED =
            SELECT_DEVICE + "where d.person_id = ? and d.name = ? and d.archived_at is null";

    /** A person's device by its name. */
    public static Optional<Device> device(Tx tx, UUID personId, String name) {
        return tx.first(DEVICE_NAMED, p -> p.id(personId).text(name), People::device);
    }

    public static Optional<Device> device(Tx tx, UUID id) {
        return tx.first(DEVICE_BY_ID, p -> p.id(id), People::device);
    }

    private static Device device(Row row) {
        return new Device(
                row.id("id"),
                row.id("person_id"),
                row.text("handle"),
                row.text("name"),
                row.text("kind"),
                row.text("system"),
                row.integer("version"));
    }
}
