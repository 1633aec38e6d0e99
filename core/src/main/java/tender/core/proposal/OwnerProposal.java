package tender.core.proposal;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import tender.core.certificate.CertificateFacts;
import tender.core.office.Protocol;
import tender.core.profile.OpenVpnFile;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;

/** Tells whose files are, and which people and devices that makes. */
final class OwnerProposal {
    private static final String USUAL_DEVICE = "laptop";

    private final Map<String, Proposal.Person> known = new LinkedHashMap<>();
    private final Map<String, String> names = new LinkedHashMap<>();
    private final Map<String, Map<String, Proposal.Device>> devices = new LinkedHashMap<>();
    /** Devices that have a file at a listener already. */
    private final Set<String> used = new TreeSet<>();

    OwnerProposal(List<Proposal.Person> people) {
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
    Optional<Proposal.Owner> of(ClientFile file, String listener, Set<String> gatewayWords, Optional<String> said) {
        if (said.isPresent()) {
            return Optional.of(said(said.get(), listener));
        }
        Optional<NamedOwner> onFile = NamedOwner.of(file.stem(), gatewayWords);
        Optional<NamedOwner> inFolder = NamedOwner.of(file.folder(), gatewayWords);
        Map<String, Optional<String>> sources = new LinkedHashMap<>();
        sources.put(
                "certificate",
                file.certificates().stream()
                        .filter(c -> c.role() != CertificateFacts.Role.AUTHORITY)
                        .flatMap(c -> c.anyName().stream())
                        .findFirst());
        sources.put("account", account(file));
        sources.put("file name", Optional.of(file.stem()));
        sources.put("folder", Optional.of(file.folder()));
        for (Map.Entry<String, Optional<String>> source : sources.entrySet()) {
            Optional<NamedOwner> named = source.getValue().flatMap(t -> NamedOwner.of(t, gatewayWords));
            if (named.isPresent()) {
                Optional<NamedOwner.DeviceWord> device = named.get()
                        .device()
                        .or(() -> onFile.flatMap(NamedOwner::device))
                        .or(() -> inFolder.flatMap(NamedOwner::device));
                return Optional.of(owner(named.get(), device, listener, source.getKey()));
            }
        }
        return Optional.empty();
    }

    private static Optional<String> account(ClientFile file) {
        return file.protocol() != Protocol.OPENVPN
                ? Optional.empty()
                : OpenVpnFile.read(file.text())
                        .file()
                        .last("auth-user-pass")
                        .flatMap(OpenVpnFile.Directive::block)
                        .flatMap(b -> b.lines()
                                .map(String::strip)
                                .filter(l -> !l.isEmpty())
                                .findFirst());
    }

    private Proposal.Owner said(String text, String listener) {
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

    private Proposal.Owner owner(NamedOwner named, Optional<NamedOwner.DeviceWord> word, String listener, String by) {
        String handle = handle(named);
        names.putIfAbsent(handle, named.name());
        String name = word.map(NamedOwner.DeviceWord::name)
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
