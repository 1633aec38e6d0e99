package tender.service.person;

import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.person.PeopleComparison;
import tender.core.person.PeopleList;
import tender.core.wire.MalformedException;
import tender.store.event.Events;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.person.People;

/** Brings the records of people and devices up to a list. */
final class PeopleImport {
    private PeopleImport() {}

    /** Adds and changes what the list says, in a transaction, and gives what that was. */
    static PeopleComparison write(Tx tx, List<PeopleList.Line> lines, By by) {
        Map<String, People.Person> people =
                People.all(tx).stream().collect(Collectors.toMap(People.Person::handle, p -> p));
        Map<UUID, List<People.Device>> devices =
                People.devices(
                                tx,
                                people.values().stream().map(People.Person::id).toList())
                        .stream()
                        .collect(Collectors.groupingBy(People.Device::personId));
        PeopleComparison compared = PeopleComparison.of(found(lines, people.values()), known(people, devices));
        Map<String, UUID> ids = new HashMap<>();
        people.forEach((handle, p) -> ids.put(handle, p.id()));
        for (PeopleComparison.Change c : compared.changes()) {
            if (c.kind() != PeopleComparison.Kind.UNCHANGED) {
                if (c.device().isEmpty()) {
                    person(tx, c, Optional.ofNullable(people.get(c.line().handle())), ids, by);
                } else {
                    device(tx, c, ids.get(c.line().handle()), devices);
                }
            }
        }
        Events.say(tx, "person", "-");
        Journal.append(
                tx,
                by,
                "people-imported",
                "person",
                "-",
                compared.count(false, PeopleComparison.Kind.ADDED) + " people added, "
                        + compared.count(false, PeopleComparison.Kind.CHANGED) + " changed");
        return compared;
    }

    /**
     * Where no handle is said, somebody in the records with the same mail address, else with the same name, is meant.
     *
     * @throws MalformedException where the handle that would be made is another person's
     */
    private static List<PeopleList.Line> found(List<PeopleList.Line> lines, Collection<People.Person> people) {
        Map<String, List<People.Person>> byMail =
                people.stream().collect(Collectors.groupingBy(p -> p.mail().toLowerCase(Locale.ROOT)));
        Map<String, List<People.Person>> byName =
                people.stream().collect(Collectors.groupingBy(p -> p.name().toLowerCase(Locale.ROOT)));
        Set<String> handles = people.stream().map(People.Person::handle).collect(Collectors.toSet());
        return lines.stream()
                .map(l -> {
                    List<People.Person> same = l.mail().isEmpty()
                            ? List.of()
                            : byMail.getOrDefault(l.mail().toLowerCase(Locale.ROOT), List.of());
                    List<People.Person> meant =
                            same.isEmpty() ? byName.getOrDefault(l.name().toLowerCase(Locale.ROOT), List.of()) : same;
                    if (l.said() || meant.size() == 1) {
                        return l.said() ? l : l.of(meant.get(0).handle());
                    }
                    if (handles.contains(l.handle())) {
                        throw new MalformedException(
                                "handle",
                                "line " + l.number(),
                                l.handle() + " is somebody else here; give " + l.name()
                                        + " a handle in a column handle");
                    }
                    return l;
                })
                .toList();
    }

    private static Map<String, PeopleComparison.Known> known(
            Map<String, People.Person> people, Map<UUID, List<People.Device>> devices) {
        Map<String, PeopleComparison.Known> out = new HashMap<>();
        people.forEach((handle, p) -> out.put(
                handle,
                new PeopleComparison.Known(
                        handle,
                        p.name(),
                        p.mail(),
                        p.team().orElse(""),
                        devices.getOrDefault(p.id(), List.of()).stream()
                                .collect(Collectors.toMap(
                                        People.Device::name,
                                        d -> new PeopleComparison.KnownDevice(d.kind(), d.system()))))));
        return out;
    }

    private static void person(
            Tx tx, PeopleComparison.Change c, Optional<People.Person> there, Map<String, UUID> ids, By by) {
        PeopleList.Line line = c.line();
        Optional<String> team = Optional.of(line.team()).filter(t -> !t.isEmpty());
        if (there.isPresent()) {
            People.Person p = there.get();
            People.set(
                    tx,
                    new People.Person(
                            p.id(),
                            p.handle(),
                            line.name(),
                            line.mail().isEmpty() ? p.mail() : line.mail(),
                            team.or(p::team),
                            p.language(),
                            p.devices(),
                            p.createdAt(),
                            p.version()));
            return;
        }
        UUID id = Ids.next();
        ids.put(line.handle(), id);
        People.insert(
                tx,
                new People.Person(id, line.handle(), line.name(), line.mail(), team, Optional.empty(), 0, by.at(), 1));
    }

    private static void device(
            Tx tx, PeopleComparison.Change c, UUID personId, Map<UUID, List<People.Device>> devices) {
        PeopleList.Line line = c.line();
        Optional<People.Device> there = devices.getOrDefault(personId, List.of()).stream()
                .filter(d -> d.name().equals(c.device()))
                .findFirst();
        if (there.isPresent()) {
            People.Device d = there.get();
            People.set(
                    tx,
                    new People.Device(
                            d.id(),
                            personId,
                            d.person(),
                            d.name(),
                            line.kind(),
                            line.system().isEmpty() ? d.system() : line.system(),
                            d.version() + 1));
            return;
        }
        People.insert(
                tx,
                new People.Device(Ids.next(), personId, line.handle(), line.device(), line.kind(), line.system(), 1));
    }
}
