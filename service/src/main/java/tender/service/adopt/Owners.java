package tender.service.adopt;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import tender.store.jdbc.Tx;
import tender.store.person.People;

/** Tells whose a file is by a name that stands in its certificate, on the file, or that somebody said. */
final class Owners {
    private static final int ALL = Integer.MAX_VALUE;

    /** A device and what it was told by. */
    record Owner(People.Person person, People.Device device, String matchedBy) {}

    private final List<People.Person> people;
    private final Map<java.util.UUID, List<People.Device>> devices;

    private Owners(List<People.Person> people, Map<java.util.UUID, List<People.Device>> devices) {
        this.people = people;
        this.devices = devices;
    }

    static Owners read(Tx tx) {
        List<People.Person> people = People.page(tx, "", ALL);
        return new Owners(
                people,
                People.devices(tx, people.stream().map(People.Person::id).toList()).stream()
                        .collect(Collectors.groupingBy(People.Device::personId)));
    }

    /** {@code handle/device}, as somebody said. */
    Optional<Owner> said(String text) {
        int slash = text.indexOf('/');
        return slash < 0 ? Optional.empty() : exact(text.substring(0, slash), text.substring(slash + 1), "said");
    }

    private Optional<Owner> exact(String handle, String device, String by) {
        return people.stream()
                .filter(p -> p.handle().equals(handle))
                .flatMap(p -> devices.getOrDefault(p.id(), List.of()).stream()
                        .filter(d -> d.name().equals(device))
                        .map(d -> new Owner(p, d, by)))
                .findFirst();
    }

    /** By a name such as {@code mara-laptop}, {@code mara} or {@code Mara Quillfeather}; only where one device fits. */
    Optional<Owner> named(String text, String by) {
        String plain = text.toLowerCase(Locale.ROOT);
        List<Owner> found = new ArrayList<>();
        for (People.Person p : people) {
            List<People.Device> own = devices.getOrDefault(p.id(), List.of());
            for (People.Device d : own) {
                String both = p.handle() + "-" + d.name();
                boolean whole = plain.replaceAll("[_. @]", "-").equals(both);
                boolean alone = own.size() == 1
                        && (plain.equals(p.handle()) || plain.equals(p.name().toLowerCase(Locale.ROOT)));
                if (whole || alone) {
                    found.add(new Owner(p, d, by));
                }
            }
        }
        return found.size() == 1 ? Optional.of(found.get(0)) : Optional.empty();
    }
}
