package tender.service.importing;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.proposal.NamedOwner;
import tender.core.proposal.OwnerName;
import tender.core.proposal.Proposal;
import tender.store.jdbc.Tx;
import tender.store.person.People;

/** Tells whose a file is by a name that stands in its certificate, on the file, or that somebody said. */
final class Owners {

    /** A device and what it was told by. */
    record Owner(People.Person person, People.Device device, String matchedBy) {
        private Owner by(String how) {
            return new Owner(person, device, how);
        }
    }

    private final Map<String, Owner> exact = new HashMap<>();
    private final Map<String, List<Owner>> byDevice = new HashMap<>();
    private final Map<String, List<Owner>> alone = new HashMap<>();

    private Owners(List<People.Person> people, Map<UUID, List<People.Device>> devices, Set<UUID> requested) {
        for (People.Person p : people) {
            List<People.Device> own = devices.getOrDefault(p.id(), List.of());
            List<People.Device> asked =
                    own.stream().filter(d -> requested.contains(d.id())).toList();
            for (People.Device d : own) {
                Owner owner = new Owner(p, d, "");
                exact.put(p.handle() + "/" + d.name(), owner);
                add(byDevice, p.handle() + "-" + d.name(), owner);
                if (own.size() == 1 || asked.equals(List.of(d))) {
                    add(alone, p.handle(), owner);
                    add(alone, p.name().toLowerCase(Locale.ROOT), owner);
                }
            }
        }
    }

    private static void add(Map<String, List<Owner>> index, String name, Owner owner) {
        index.computeIfAbsent(name, n -> new ArrayList<>()).add(owner);
    }

    /** @param requested devices that files were asked for; of several devices of somebody the one that is */
    static Owners read(Tx tx, Set<UUID> requested) {
        List<People.Person> people = People.all(tx);
        return new Owners(
                people,
                People.devices(tx, people.stream().map(People.Person::id).toList()).stream()
                        .collect(Collectors.groupingBy(People.Device::personId)),
                requested);
    }

    /** {@code handle/device}, as somebody said. */
    Optional<Owner> said(String text) {
        return Optional.ofNullable(exact.get(text)).map(o -> o.by("said"));
    }

    /** As it was proposed, where both are in the records. */
    Optional<Owner> proposed(Proposal.Owner owner) {
        return Optional.ofNullable(exact.get(owner.person() + "/" + owner.device()))
                .map(o -> o.by(owner.matchedBy()));
    }

    /**
     * By a name such as {@code mara-laptop}, {@code mara}, {@code Mara Quillfeather} or {@code vpn_mara@firm.example}; only where one
     * device fits.
     */
    Optional<Owner> named(OwnerName name) {
        String plain = name.text().toLowerCase(Locale.ROOT);
        Set<Owner> found = new LinkedHashSet<>(byDevice.getOrDefault(plain.replaceAll("[_. @]", "-"), List.of()));
        found.addAll(alone.getOrDefault(plain, List.of()));
        if (found.isEmpty()) {
            name.named().ifPresent(n -> found.addAll(read(n)));
        }
        return found.size() == 1 ? found.stream().findFirst().map(o -> o.by(name.source())) : Optional.empty();
    }

    private List<Owner> read(NamedOwner n) {
        List<Owner> exactly = n.device()
                .map(d -> byDevice.getOrDefault(n.handle() + "-" + d.name(), List.of()))
                .orElse(List.of());
        return exactly.isEmpty()
                ? alone.getOrDefault(n.handle(), alone.getOrDefault(n.name().toLowerCase(Locale.ROOT), List.of()))
                : exactly;
    }
}
