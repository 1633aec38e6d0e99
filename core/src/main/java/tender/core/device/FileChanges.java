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
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.Network;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.WireGuardFile;
import tender.core.wire.MalformedException;

/** What changes do to a box's files: only the lines that are meant, everything else byte for byte. */
public final class FileChanges {
    private final DeviceDescription description;
    private final Map<String, byte[]> files;
    private final SecureRandom random;

    private FileChanges(DeviceDescription description, Map<String, byte[]> files, SecureRandom random) {
        this.description = description;
        this.random = random;
        this.files = new TreeMap<>(files);
    }

    /**
     * The files that differ afterwards, by path without the leading slash.
     *
     * @param device what the files say now
     * @param random for keys that a change needs
     * @return a missing value for a file that goes
     */
    public static Map<String, Optional<byte[]>> of(
            DeviceDescription description,
            Map<String, byte[]> files,
            Device device,
            List<Change> changes,
            SecureRandom random) {
        FileChanges work = new FileChanges(description, files, random);
        Device now = device;
        for (Change change : changes) {
            Device next = change.applyTo(now);
            change.match(work.new Writing(now, next));
            now = next;
        }
        Map<String, Optional<byte[]>> out = new LinkedHashMap<>();
        work.files.forEach((path, content) -> {
            if (!java.util.Arrays.equals(content, files.get(path))) {
                out.put(path, Optional.of(content));
            }
        });
        files.keySet().stream().filter(p -> !work.files.containsKey(p)).forEach(p -> out.put(p, Optional.empty()));
        return out;
    }

    /** What a change does to the files, kind by kind. */
    private final class Writing implements Change.Cases<Void> {
        private final Device now;
        private final Device next;

        Writing(Device now, Device next) {
            this.now = now;
            this.next = next;
        }

        @Override
        public Void of(Change.SetListener set) {
            set.values().forEach((attribute, value) -> set(set.listener(), attribute, value));
            return null;
        }

        @Override
        public Void of(Change.AddBeside add) {
            if (!description.beside()) {
                throw new MalformedException(
                        "listener", add.name(), "this kind of device cannot put a listener beside another");
            }
            Place from = place(add.listener());
            if (files.containsKey(from.rule().pathOf(add.name()).substring(1))
                    || from.rule().path().indexOf('*') < 0) {
                throw new MalformedException(
                        "listener", add.name(), "this device has no room for a listener of this name");
            }
            // it shares the keys and all settings but those given, so that both serve the same people
            files.put(from.rule().pathOf(add.name()).substring(1), files.get(from.path()));
            add.values().forEach((attribute, value) -> set(add.name(), attribute, value));
            return null;
        }

        @Override
        public Void of(Change.Retire retire) {
            files.remove(place(retire.listener()).path());
            return null;
        }

        private Void forwards() {
            records(
                    "forward",
                    next.forwards().stream().map(DeviceFiles.Records::values).toList());
            return null;
        }

        @Override
        public Void of(Change.PutForward change) {
            return forwards();
        }

        @Override
        public Void of(Change.DropForward change) {
            return forwards();
        }

        private Void rules() {
            records(
                    "rule",
                    next.filter().rules().stream()
                            .map(DeviceFiles.Records::values)
                            .toList());
            return null;
        }

        @Override
        public Void of(Change.PutRule change) {
            return rules();
        }

        @Override
        public Void of(Change.ReplaceRule change) {
            return rules();
        }

        @Override
        public Void of(Change.DropRule change) {
            return rules();
        }

        @Override
        public Void of(Change.MoveRule change) {
            return rules();
        }

        @Override
        public Void of(Change.Demote demote) {
            demote(demote.account(), next);
            return null;
        }

        /** A command, not a file. */
        @Override
        public Void of(Change.SetClock change) {
            return null;
        }

        /** A command, not a file. */
        @Override
        public Void of(Change.TakeUp change) {
            return null;
        }

        @Override
        public Void of(Change.PutNetwork put) {
            network(now, put.network());
            return null;
        }

        @Override
        public Void of(Change.SetZone zone) {
            pair("zone", "", Optional.of(zone.zone()));
            return null;
        }

        private Void noAuthority() {
            throw new MalformedException("authority", "", "this kind of device has no authority of its own to ask");
        }

        @Override
        public Void of(Change.RenewCertificate change) {
            return noAuthority();
        }

        @Override
        public Void of(Change.RenewRevocations change) {
            return noAuthority();
        }

        @Override
        public Void of(Change.UseCertificate change) {
            return noAuthority();
        }

        @Override
        public Void of(Change.PutRevocations change) {
            return noAuthority();
        }
    }

    private record Place(FileRule rule, String path) {}

    private Place place(String listener) {
        for (FileRule rule : description.files()) {
            boolean holdsListeners = rule.format() == Format.WIREGUARD
                    || rule.format() == Format.OPENVPN
                    || rule.format() == Format.PAIRS && isListener(rule);
            if (!holdsListeners) {
                continue;
            }
            for (String path : files.keySet()) {
                if (rule.name("/" + path).filter(listener::equals).isPresent()) {
                    return new Place(rule, path);
                }
            }
        }
        throw new MalformedException("listener", listener, "no file of this box holds it");
    }

    private static boolean isListener(FileRule rule) {
        return rule.fixed().containsKey(Attribute.PROTOCOL) || rule.keys().containsValue("protocol");
    }

    private String text(String path) {
        return new String(files.get(path), StandardCharsets.ISO_8859_1);
    }

    private void put(String path, String text) {
        files.put(path, text.getBytes(StandardCharsets.ISO_8859_1));
    }

    private void set(String listener, Attribute attribute, String value) {
        Place place = place(listener);
        if (place.rule().fixed().containsKey(attribute)) {
            throw new MalformedException("attribute", attribute.word(), "cannot be changed on this kind of box");
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
                        OpenVpnServer.with(OpenVpnFile.read(text(place.path())).file(), attribute, value, random)
                                .text());
            default -> {
                String key = place.rule().keys().entrySet().stream()
                        .filter(e -> e.getValue().equals(attribute.word()))
                        .map(Map.Entry::getKey)
                        .findFirst()
                        .orElseThrow(() -> new MalformedException(
                                "attribute", attribute.word(), "this box's file has no key for it"));
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
            case TUNNELS -> file.withOwn("Address", addresses(value));
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

    private void records(String kind, List<Map<String, String>> records) {
        for (FileRule rule : description.files()) {
            if (rule.format() == Format.LINES && rule.lines().containsKey(kind)) {
                String path = rule.path().substring(1);
                String before = files.containsKey(path) ? text(path) : "";
                List<Map<String, String>> theirs = records.stream()
                        .map(r -> only(rule, kind, DeviceFiles.Records.theirs(rule, r)))
                        .toList();
                put(
                        path,
                        LinesFile.parse(rule.lines(), before)
                                .withRecords(kind, theirs)
                                .text());
                return;
            }
        }
        throw new MalformedException(kind, "", "this kind of box has no file for it that Tender can write");
    }

    /** The values that the template has places for, so that unchanged records are told to be so. */
    private static Map<String, String> only(FileRule rule, String kind, Map<String, String> values) {
        String template = rule.lines().get(kind).toString();
        Map<String, String> out = new LinkedHashMap<>(values);
        out.keySet().removeIf(k -> !k.equals("label") && !template.contains("{" + k + "}"));
        return out;
    }

    private void network(Device now, Network n) {
        now.networks().stream()
                .filter(before -> before.name().equals(n.name()))
                .flatMap(before -> before.fixed().keySet().stream())
                .filter(host -> !n.fixed().containsKey(host))
                .forEach(host -> pair("fixed", host, Optional.empty()));
        pair("network", n.name(), Optional.of(n.network().toString()));
        pair("pool", n.name(), n.pool().map(Network.Pool::toString));
        n.fixed().forEach((host, address) -> pair("fixed", host, Optional.of(address.toString())));
    }

    /** Sets what a key means in the first file that has one for it; a missing value takes the line out. */
    private void pair(String meaning, String name, Optional<String> value) {
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
            throw new MalformedException(meaning, name, "this kind of box has no key for it that Tender can write");
        }
    }

    private void demote(String account, Device next) {
        Device.Account after = next.accounts().stream()
                .filter(a -> a.name().equals(account))
                .findFirst()
                .orElseThrow();
        for (FileRule rule : description.files()) {
            if (rule.format() == Format.LINES && rule.lines().containsKey("account")) {
                List<Map<String, String>> all =
                        next.accounts().stream().map(FileChanges::values).toList();
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
