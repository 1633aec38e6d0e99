package tender.core.proposal;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;

/** Tells whose files are, and which people and devices that makes. */
final class OwnerProposal {
    private static final String USUAL_DEVICE = "laptop";

    private final Map<String, Set<String>> requested;
    private final Map<String, Proposal.Person> known = new LinkedHashMap<>();
    private final Map<String, String> names = new LinkedHashMap<>();
    private final Map<String, Map<String, Proposal.Device>> devices = new LinkedHashMap<>();
    /** Devices that have a file at a listener already. */
    private final Set<String> used = new TreeSet<>();

    /** A listener by its gateway's name and its own. */
    record Place(String gateway, String listener) {
        @Override
        public String toString() {
            return gateway + " " + listener;
        }
    }

    /** @param requested devices that files were asked for, {@code person/device} by the gateway's name */
    OwnerProposal(List<Proposal.Person> people, Map<String, Set<String>> requested) {
        this.requested = requested;
        people.forEach(p -> {
            known.put(p.handle(), p);
            names.put(p.handle(), p.name());
        });
    }

    /** People whose files there are. */
    List<Proposal.Person> people() {
        return devices.entrySet().stream()
                .map(e -> new Proposal.Person(
                        e.getKey(),
                        names.get(e.getKey()),
                        List.copyOf(e.getValue().values()),
                        known.containsKey(e.getKey())))
                .toList();
    }

    /** @param said {@code person/device}, where somebody said whose it is */
    Optional<Proposal.Owner> of(ClientFile file, Place listener, Set<String> gatewayWords, Optional<String> said) {
        if (said.isPresent()) {
            return Optional.of(said(said.get(), listener));
        }
        return OwnerName.of(file, gatewayWords).stream()
                .filter(n -> n.named().isPresent())
                .findFirst()
                .map(n -> owner(n.named().get(), listener, n.source()));
    }

    private Proposal.Owner said(String text, Place listener) {
        int slash = text.indexOf('/');
        if (slash < 0) {
            throw new MalformedException("assign", "assign", "whose a file is, is written PERSON/DEVICE");
        }
        String handle = Fields.name("person", text.substring(0, slash));
        String device = Fields.name("device", text.substring(slash + 1));
        names.putIfAbsent(handle, handle);
        Optional<NamedOwner.DeviceWord> word =
                NamedOwner.of("x-" + device, Set.of()).flatMap(NamedOwner::device);
        put(handle, device, word.map(NamedOwner.DeviceWord::kind).orElse(USUAL_DEVICE));
        used.add(handle + "/" + device + " " + listener);
        return new Proposal.Owner(handle, device, "said");
    }

    private Proposal.Owner owner(NamedOwner named, Place listener, String by) {
        Optional<NamedOwner.DeviceWord> word = named.device();
        String handle = handle(named);
        names.putIfAbsent(handle, named.name());
        String name = word.map(NamedOwner.DeviceWord::name)
                .or(() -> askedFor(handle, listener))
                .orElseGet(() -> only(handle).orElse(USUAL_DEVICE));
        String device = name;
        for (int n = 2; used.contains(handle + "/" + device + " " + listener); n++) {
            device = name + "-" + n; // another file of theirs at the same listener is another device's
        }
        used.add(handle + "/" + device + " " + listener);
        put(handle, device, word.map(NamedOwner.DeviceWord::kind).orElse(USUAL_DEVICE));
        return new Proposal.Owner(handle, device, by);
    }

    /** Somebody known by that handle, or by that name where only one is. */
    private String handle(NamedOwner named) {
        if (known.containsKey(named.handle())) {
            return named.handle();
        }
        List<String> byName = known.values().stream()
                .filter(p -> p.name().equalsIgnoreCase(named.name()))
                .map(Proposal.Person::handle)
                .toList();
        return byName.size() == 1 ? byName.get(0) : named.handle();
    }

    /** The only device of somebody that a file was asked for at the gateway. */
    private Optional<String> askedFor(String handle, Place listener) {
        List<String> theirs = requested.getOrDefault(listener.gateway(), Set.of()).stream()
                .filter(r -> r.startsWith(handle + "/") && !used.contains(r + " " + listener))
                .map(r -> r.substring(handle.length() + 1))
                .toList();
        return theirs.size() == 1 ? Optional.of(theirs.get(0)) : Optional.empty();
    }

    /** The only device that somebody has in the records. */
    private Optional<String> only(String handle) {
        List<String> own =
                Optional.ofNullable(known.get(handle)).map(Proposal.Person::devices).orElse(List.of()).stream()
                        .map(Proposal.Device::name)
                        .collect(Collectors.toCollection(ArrayList::new));
        return own.size() == 1 ? Optional.of(own.get(0)) : Optional.empty();
    }

    private void put(String handle, String device, String kind) {
        Proposal.Device there = Optional.ofNullable(known.get(handle))
                .flatMap(p -> p.devices().stream()
                        .filter(d -> d.name().equals(device))
                        .findFirst())
                .orElse(new Proposal.Device(device, kind, false));
        devices.computeIfAbsent(handle, h -> new LinkedHashMap<>()).putIfAbsent(device, there);
    }
}
