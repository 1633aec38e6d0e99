package tender.core.device;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import tender.core.device.DeviceDescription.FileRule;
import tender.core.device.DeviceDescription.Format;
import tender.core.office.Attribute;
import tender.core.office.Device;
import tender.core.office.Network;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.WireGuardFile;
import tender.core.wire.MalformedException;

/** A device's files while they are changed: which of them holds what, and how it is written there. */
final class EditedFiles {
    private final DeviceDescription description;
    private final Map<String, byte[]> files;
    private final SecureRandom random;

    EditedFiles(DeviceDescription description, Map<String, byte[]> files, SecureRandom random) {
        this.description = description;
        this.random = random;
        this.files = new TreeMap<>(files);
    }

    Map<String, byte[]> all() {
        return files;
    }

    record Place(FileRule rule, String path) {}

    Place place(String listener) {
        for (FileRule rule : description.files()) {
            if (!rule.holdsListeners() || rule.format() == Format.SWANCTL) {
                continue;
            }
            for (String path : files.keySet()) {
                if (rule.name("/" + path).filter(listener::equals).isPresent()) {
                    return new Place(rule, path);
                }
            }
        }
        throw new MalformedException("listener", listener, "no file of this device holds it");
    }

    private String text(String path) {
        return new String(files.get(path), StandardCharsets.ISO_8859_1);
    }

    private void put(String path, String text) {
        files.put(path, text.getBytes(StandardCharsets.ISO_8859_1));
    }

    void set(String listener, Attribute attribute, String value) {
        Place place = place(listener);
        if (place.rule().fixed().containsKey(attribute)) {
            throw new MalformedException("attribute", attribute.word(), "cannot be changed on this kind of device");
        }
        if (standsApart(attribute)) {
            pair(attribute.word(), listener, Optional.of(value));
            return;
        }
        switch (place.rule().format()) {
            case WIREGUARD ->
                put(
                        place.path(),
                        wireguard(WireGuardFile.read(text(place.path())).file(), attribute, value)
                                .text());
            case OPENVPN ->
                put(
                        place.path(),
                        OpenVpnServerConfig.with(
                                        OpenVpnFile.read(text(place.path())).file(), attribute, value, random)
                                .text());
            default -> {
                String key = place.rule().keys().entrySet().stream()
                        .filter(e -> e.getValue().equals(attribute.word()))
                        .map(Map.Entry::getKey)
                        .findFirst()
                        .orElseThrow(() -> new MalformedException(
                                "attribute", attribute.word(), "this device's file has no key for it"));
                put(
                        place.path(),
                        PairsFile.parse(text(place.path())).with(key, value).text());
            }
        }
    }

    /** Whether a file tells it for listeners by their names. */
    private boolean standsApart(Attribute attribute) {
        return description.files().stream()
                .flatMap(f -> f.keys().entrySet().stream())
                .anyMatch(k -> k.getKey().indexOf('*') >= 0 && k.getValue().equals(attribute.word()));
    }

    private static WireGuardFile wireguard(WireGuardFile file, Attribute attribute, String value) {
        return switch (attribute) {
            case PORT -> file.withOwn("ListenPort", value);
            case MTU -> file.withOwn("MTU", value);
            case TUNNEL_NETWORK -> file.withOwn("Address", addresses(value));
            case TRANSPORT -> {
                if (!value.equals("udp")) {
                    throw new MalformedException("attribute", "transport", "WireGuard speaks UDP only");
                }
                yield file;
            }
            default ->
                throw new MalformedException("attribute", attribute.word(), "a WireGuard file has no setting for it");
        };
    }

    /** The gateway's own end is the first address of each network. */
    private static String addresses(String networks) {
        List<String> out = new ArrayList<>();
        for (String text : networks.split("\\s*,\\s*")) {
            tender.core.network.Cidr network = tender.core.network.Cidr.parse(text);
            out.add(network.first().plus(1) + "/" + network.prefix());
        }
        return String.join(", ", out);
    }

    void records(String kind, List<Map<String, String>> records) {
        for (FileRule rule : description.files()) {
            if (rule.format() == Format.LINES && rule.lines().containsKey(kind)) {
                String path = rule.path().substring(1);
                String before = files.containsKey(path) ? text(path) : "";
                List<Map<String, String>> theirs = records.stream()
                        .map(r -> only(rule, kind, LineRecords.theirs(rule, r)))
                        .toList();
                put(
                        path,
                        LinesFile.parse(rule.lines(), before)
                                .withRecords(kind, theirs)
                                .text());
                return;
            }
        }
        throw new MalformedException(kind, "", "this kind of device has no file for it that Tender can write");
    }

    /** The values that the template has places for, so that unchanged records are told to be so. */
    private static Map<String, String> only(FileRule rule, String kind, Map<String, String> values) {
        String template = rule.lines().get(kind).toString();
        Map<String, String> out = new LinkedHashMap<>(values);
        out.keySet().removeIf(k -> !k.equals("label") && !template.contains("{" + k + "}"));
        return out;
    }

    void network(Device now, Network n) {
        now.networks().stream()
                .filter(before -> before.name().equals(n.name()))
                .flatMap(before -> before.reserved().keySet().stream())
                .filter(host -> !n.reserved().containsKey(host))
                .forEach(host -> pair("reservation", host, Optional.empty()));
        pair("network", n.name(), Optional.of(n.network().toString()));
        pair("pool", n.name(), n.pool().map(Network.Pool::toString));
        n.reserved().forEach((host, address) -> pair("reservation", host, Optional.of(address.toString())));
    }

    /** Sets what a key means in the first file that has one for it; a missing value takes the line out. */
    void pair(String meaning, String name, Optional<String> value) {
        for (FileRule rule : description.files()) {
            Optional<String> key = rule.keys().entrySet().stream()
                    .filter(e -> e.getValue().equals(meaning))
                    .map(e -> e.getKey().replace("*", name))
                    .findFirst();
            String path = rule.path().substring(1);
            if (rule.format() == Format.PAIRS && key.isPresent() && files.containsKey(path)) {
                PairsFile file = PairsFile.parse(text(path));
                put(
                        path,
                        value.map(v -> file.with(key.get(), v))
                                .orElseGet(() -> file.without(key.get()))
                                .text());
                return;
            }
        }
        if (value.isPresent()) {
            throw new MalformedException(meaning, name, "this kind of device has no key for it that Tender can write");
        }
    }

    void demote(String account, Device next) {
        Device.Account after = next.accounts().stream()
                .filter(a -> a.name().equals(account))
                .findFirst()
                .orElseThrow();
        for (FileRule rule : description.files()) {
            if (rule.format() == Format.LINES && rule.lines().containsKey("account")) {
                List<Map<String, String>> all =
                        next.accounts().stream().map(EditedFiles::values).toList();
                records("account", all);
                return;
            }
        }
        String words = (after.vpn() ? "vpn" : "") + (after.secondFactor() ? " code" : "");
        pair("account", account, Optional.of(words.strip()));
    }

    private static Map<String, String> values(Device.Account a) {
        Map<String, String> out = new LinkedHashMap<>();
        out.put("name", a.name());
        out.put("vpn", a.vpn() ? "yes" : "no");
        out.put("admin", a.administers() ? "yes" : "no");
        out.put("code", a.secondFactor() ? "yes" : "no");
        out.put("label", "");
        return out;
    }
}
