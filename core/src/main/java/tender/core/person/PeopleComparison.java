package tender.core.person;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** What a list of people changes in the records. What the list leaves empty stays; nobody is removed by it. */
public record PeopleComparison(List<Change> changes, List<String> gone) {
    /** What becomes of a line. */
    public enum Kind {
        ADDED,
        CHANGED,
        UNCHANGED
    }

    /**
     * A person, or a device of theirs.
     *
     * @param device empty for the person
     * @param fields what changes
     */
    public record Change(PeopleList.Line line, String device, Kind kind, List<String> fields) {}

    /** @param devices by name */
    public record Known(String handle, String name, String mail, String team, Map<String, KnownDevice> devices) {}

    public record KnownDevice(String kind, String system) {}

    public PeopleComparison {
        changes = List.copyOf(changes);
        gone = List.copyOf(gone);
    }

    /** Compares; a person's first line counts, later ones add devices. */
    public static PeopleComparison of(List<PeopleList.Line> lines, Map<String, Known> known) {
        List<Change> changes = new ArrayList<>();
        Set<String> seen = new HashSet<>();
        Set<String> devices = new HashSet<>();
        for (PeopleList.Line line : lines) {
            Known person = known.get(line.handle());
            if (seen.add(line.handle())) {
                changes.add(
                        person == null
                                ? new Change(line, "", Kind.ADDED, List.of())
                                : change(line, "", fields(line, person)));
            }
            if (!line.device().isEmpty() && devices.add(line.handle() + "/" + line.device())) {
                KnownDevice device = person == null ? null : person.devices().get(line.device());
                changes.add(
                        device == null
                                ? new Change(line, line.device(), Kind.ADDED, List.of())
                                : change(line, line.device(), fields(line, device)));
            }
        }
        return new PeopleComparison(
                changes,
                known.keySet().stream().filter(h -> !seen.contains(h)).sorted().toList());
    }

    private static Change change(PeopleList.Line line, String device, List<String> fields) {
        return new Change(line, device, fields.isEmpty() ? Kind.UNCHANGED : Kind.CHANGED, fields);
    }

    private static List<String> fields(PeopleList.Line line, Known person) {
        Map<String, String[]> all = new LinkedHashMap<>();
        all.put("name", new String[] {line.name(), person.name()});
        all.put("mail", new String[] {line.mail(), person.mail()});
        all.put("team", new String[] {line.team(), person.team()});
        return differing(all);
    }

    private static List<String> fields(PeopleList.Line line, KnownDevice device) {
        Map<String, String[]> all = new LinkedHashMap<>();
        all.put("kind", new String[] {line.kind(), device.kind()});
        all.put("system", new String[] {line.system(), device.system()});
        return differing(all);
    }

    private static List<String> differing(Map<String, String[]> values) {
        return values.entrySet().stream()
                .filter(e -> !e.getValue()[0].isEmpty() && !e.getValue()[0].equals(e.getValue()[1]))
                .map(Map.Entry::getKey)
                .toList();
    }

    /** How many people, or devices, are of a kind. */
    public int count(boolean ofDevices, Kind kind) {
        return (int) changes.stream()
                .filter(c -> c.kind() == kind && c.device().isEmpty() != ofDevices)
                .count();
    }
}
