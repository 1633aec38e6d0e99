package tender.core.device;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.credential.TunnelKeyPair;
import tender.core.device.DeviceDescription.FileRule;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.office.Attribute;
import tender.core.office.Device;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.Forward;
import tender.core.office.Listener;
import tender.core.office.Network;
import tender.core.office.Side;
import tender.core.office.Uplink;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.SectionFile;
import tender.core.profile.WireGuardFile;
import tender.core.wire.MalformedException;
import tender.core.wireguard.StatusDump;

/** Reads a device's files into the model, as its description says. */
public final class DeviceFiles {
    /**
     * What a device answered.
     *
     * @param files by path without the leading slash
     * @param clock what the device's clock showed at {@code now}
     * @param system what its system's commands printed
     */
    public record Answers(
            Map<String, byte[]> files,
            Optional<StatusDump> status,
            Optional<Instant> clock,
            Optional<String> release,
            SystemFacts system,
            Instant now) {}

    private final DeviceDescription description;
    private final Answers answers;
    private final Map<String, String> facts = new HashMap<>();
    private final List<Device.Interface> interfaces = new ArrayList<>();
    private final Map<String, Cidr> networks = new LinkedHashMap<>();
    private final Map<String, Network.Pool> pools = new HashMap<>();
    private final Map<String, IpAddress> fixed = new LinkedHashMap<>();
    private final List<Uplink> uplinks = new ArrayList<>();
    private final List<Forward> forwards = new ArrayList<>();
    private final List<FilterRule> rules = new ArrayList<>();
    private final List<Listener> listeners = new ArrayList<>();
    private final List<Device.Account> accounts = new ArrayList<>();
    /** Settings of listeners that stand in another file than the listener, by its name. */
    private final Map<String, Map<Attribute, String>> named = new LinkedHashMap<>();

    private boolean filtered;
    private boolean otherwiseAllow = true;

    private DeviceFiles(DeviceDescription description, Answers answers) {
        this.description = description;
        this.answers = answers;
    }

    /** Throws {@link MalformedException} naming file and line where a file cannot be understood. */
    public static Device read(DeviceDescription description, Answers answers) {
        return new DeviceFiles(description, answers).device();
    }

    private Device device() {
        for (FileRule rule : description.files()) {
            for (Map.Entry<String, byte[]> file : answers.files().entrySet()) {
                rule.name("/" + file.getKey()).ifPresent(name -> {
                    try {
                        file(rule, name, file.getValue());
                    } catch (MalformedException e) {
                        throw e.at("/" + file.getKey());
                    }
                });
            }
        }
        system(answers.system());
        List<Network> all = networks.entrySet().stream()
                .map(n -> new Network(
                        n.getKey(), n.getValue(), Optional.ofNullable(pools.get(n.getKey())), fixedIn(n.getValue())))
                .toList();
        listeners.replaceAll(l -> l.with(named.getOrDefault(l.name(), Map.of())));
        listeners.sort(java.util.Comparator.comparing(Listener::name));
        for (int i = 1; i < listeners.size(); i++) {
            if (listeners.get(i).name().equals(listeners.get(i - 1).name())) {
                throw new MalformedException(
                        "listener",
                        listeners.get(i).name(),
                        "two listeners have this name; rename the file or the connection of one");
            }
        }
        return new Device(
                facts.getOrDefault("make", ""),
                facts.getOrDefault("model", ""),
                facts.getOrDefault("release", answers.release().orElse("")),
                Optional.ofNullable(facts.get("zone")),
                answers.clock().map(c -> Duration.between(answers.now(), c)),
                Optional.ofNullable(facts.get("inside-host")).map(IpAddress::parse),
                interfaces,
                all,
                uplinks,
                forwards,
                filtered ? new Filter(rules, otherwiseAllow) : Filter.OPEN,
                listeners,
                accounts);
    }

    /** What files say goes before what the system says. */
    private void system(SystemFacts system) {
        system.zone().ifPresent(z -> facts.putIfAbsent("zone", z));
        if (interfaces.isEmpty()) {
            interfaces.addAll(system.interfaces());
        }
        if (networks.isEmpty()) {
            networks.putAll(system.networks());
        }
        if (!filtered && system.filter().isPresent()) {
            filtered = true;
            rules.addAll(system.filter().get().rules());
            otherwiseAllow = system.filter().get().otherwiseAllow();
        }
        if (forwards.isEmpty()) {
            forwards.addAll(system.forwards());
        }
    }

    /** Fixed addresses of a network; one that lies in no network stays with the nearest, so that it is found. */
    private Map<String, IpAddress> fixedIn(Cidr network) {
        Map<String, IpAddress> out = new LinkedHashMap<>();
        boolean only = networks.size() == 1;
        fixed.forEach((host, address) -> {
            if (network.contains(address)
                    || only
                    || networks.values().stream().noneMatch(n -> n.contains(address))
                            && network.equals(networks.values().iterator().next())) {
                out.put(host, address);
            }
        });
        return out;
    }

    private void file(FileRule rule, String name, byte[] content) {
        String text = new String(content, StandardCharsets.ISO_8859_1);
        switch (rule.format()) {
            case PAIRS -> pairs(rule, name, PairsFile.parse(text).values());
            case LINES -> lines(rule, LinesFile.parse(rule.lines(), text));
            case WIREGUARD ->
                listeners.add(wireguard(name, WireGuardFile.read(text)).with(rule.fixed()));
            case OPENVPN -> listeners.add(openvpn(rule, name, text));
            case SWANCTL ->
                SwanctlServerConfig.read(SectionFile.read(text), this::anywhere).stream()
                        .map(l -> withActivity(l.with(rule.fixed())))
                        .forEach(listeners::add);
            case KEPT -> {}
        }
    }

    // pairs

    private void pairs(FileRule rule, String name, Map<String, String> values) {
        Map<Attribute, String> listener = new java.util.EnumMap<>(Attribute.class);
        listener.putAll(rule.fixed());
        for (Map.Entry<String, String> pair : values.entrySet()) {
            for (Map.Entry<String, String> key : rule.keys().entrySet()) {
                Optional<String> star = star(key.getKey(), pair.getKey());
                if (star.isPresent()) {
                    try {
                        meaning(key.getValue(), star.get(), pair.getValue(), listener);
                    } catch (MalformedException e) {
                        throw e.at(pair.getKey());
                    }
                    break;
                }
            }
        }
        if (listener.containsKey(Attribute.PROTOCOL)) {
            listeners.add(withActivity(new Listener(name, listener)));
        }
    }

    /** What a {@code *} in the pattern stands for; empty text where there is none. */
    private static Optional<String> star(String pattern, String key) {
        int at = pattern.indexOf('*');
        if (at < 0) {
            return pattern.equals(key) ? Optional.of("") : Optional.empty();
        }
        boolean fits = key.length() >= pattern.length()
                && key.startsWith(pattern.substring(0, at))
                && key.endsWith(pattern.substring(at + 1));
        return fits ? Optional.of(key.substring(at, key.length() - (pattern.length() - at - 1))) : Optional.empty();
    }

    private void meaning(String meaning, String name, String value, Map<Attribute, String> listener) {
        switch (meaning) {
            case "make", "model", "release", "zone", "inside-host" -> facts.put(meaning, plain(value));
            case "network" -> networks.put(name, Cidr.parse(value));
            case "pool" -> pools.put(name, Network.Pool.parse(value));
            case "reservation" -> fixed.put(name, IpAddress.parse(value));
            case "uplink" -> uplinks.add(uplink(name.isEmpty() ? "main" : name, value.split("\\s+")));
            case "interface" -> {
                String[] words = value.split("\\s+");
                interfaces.add(new Device.Interface(
                        name,
                        Side.parse(words[0]),
                        List.of(words).subList(1, words.length).stream()
                                .map(InterfaceAddress::parse)
                                .toList()));
            }
            case "account" -> accounts.add(account(name, value.split("\\s+")));
            case "filter-otherwise" -> {
                filtered = true;
                otherwiseAllow = value.equals("allow");
            }
            default ->
                Attribute.ofWord(meaning).ifPresent(a -> {
                    if (name.isEmpty()) {
                        listener.put(a, value);
                    } else {
                        named.computeIfAbsent(name, k -> new java.util.EnumMap<>(Attribute.class))
                                .put(a, value);
                    }
                });
        }
    }

    private static String plain(String value) {
        if (value.length() > 200 || value.chars().anyMatch(Character::isISOControl)) {
            throw new MalformedException("text", "", "at most 200 printable characters");
        }
        return value;
    }

    /** {@code fixed ADDRESS [NAME]}, {@code changing NAME}, {@code behind GATEWAY}, {@code carrier-nat}, or a host alone. */
    private static Uplink uplink(String label, String[] words) {
        if (words.length == 1 && !words[0].equals("carrier-nat")) {
            Host host = Host.parse(words[0]);
            return host instanceof Host.Literal literal
                    ? Uplink.of(Uplink.Kind.FIXED, Optional.of(literal.address()), Optional.empty())
                    : Uplink.of(Uplink.Kind.CHANGING, Optional.empty(), Optional.of((HostName) host));
        }
        return uplinkOf(label, Uplink.Kind.parse(words[0]), List.of(words).subList(1, words.length));
    }

    /** An uplink of a kind from the words that follow it. */
    public static Uplink uplinkOf(String label, Uplink.Kind kind, List<String> words) {
        Optional<IpAddress> address = Optional.empty();
        Optional<HostName> name = Optional.empty();
        Optional<String> behind = Optional.empty();
        int down = 0;
        int up = 0;
        for (String word : words) {
            if (kind == Uplink.Kind.BEHIND && behind.isEmpty()) {
                behind = Optional.of(word);
            } else if (word.matches("[0-9]{1,6}/[0-9]{1,6}")) {
                down = Integer.parseInt(word.substring(0, word.indexOf('/')));
                up = Integer.parseInt(word.substring(word.indexOf('/') + 1));
            } else {
                Host host = Host.parse(word);
                if (host instanceof Host.Literal literal) {
                    address = Optional.of(literal.address());
                } else {
                    name = Optional.of((HostName) host);
                }
            }
        }
        return new Uplink(label, kind, address, name, behind, down, up);
    }

    private static Device.Account account(String name, String[] words) {
        List<String> all = List.of(words);
        return new Device.Account(name, all.contains("vpn"), all.contains("admin"), all.contains("code"));
    }

    // lines

    private void lines(FileRule rule, LinesFile file) {
        if (rule.lines().containsKey("rule")) {
            filtered = true;
        }
        for (LinesFile.Entry entry : file.entries()) {
            Map<String, String> v = LineRecords.ours(rule, entry.values());
            try {
                record(entry.kind(), v);
            } catch (MalformedException e) {
                throw e.at("line " + (entry.index() + 1));
            }
        }
    }

    private void record(String kind, Map<String, String> v) {
        switch (kind) {
            case "forward" -> forwards.add(LineRecords.forward(v));
            case "rule" -> rules.add(LineRecords.rule(v));
            case "otherwise" -> otherwiseAllow = v.get("action").equals("allow");
            case "network" -> networks.put(v.get("name"), Cidr.parse(v.get("network")));
            case "pool" -> pools.put(v.get("network"), Network.Pool.parse(v.get("pool")));
            case "reservation" -> fixed.put(v.get("name"), IpAddress.parse(v.get("address")));
            case "interface" ->
                interfaces.add(new Device.Interface(
                        v.get("name"), Side.parse(v.get("side")), List.of(InterfaceAddress.parse(v.get("address")))));
            case "account" ->
                accounts.add(new Device.Account(
                        v.get("name"),
                        "yes".equals(v.get("vpn")),
                        "yes".equals(v.get("admin")),
                        "yes".equals(v.get("code"))));
            default -> {}
        }
    }

    // listeners

    private Listener withActivity(Listener listener) {
        return listener.get(Attribute.ACTIVE).isPresent() ? listener : listener.with(Attribute.ACTIVE, "yes");
    }

    private Listener wireguard(String name, WireGuardFile.Reading reading) {
        WireGuardFile.Interface own = reading.file()
                .own()
                .filter(o -> o.privateKey().isPresent() && o.listenPort().isPresent())
                .orElseThrow(() -> new MalformedException(
                        "listener",
                        "",
                        "has no complete [Interface]: "
                                + (reading.problems().isEmpty()
                                        ? "key or port is missing"
                                        : reading.problems().get(0))));
        String publicKey =
                TunnelKeyPair.ofPrivate(own.privateKey().get()).publicKey().toString();
        Port port = own.listenPort().get();
        Map<Attribute, String> out = new java.util.EnumMap<>(Attribute.class);
        out.put(Attribute.PROTOCOL, "wireguard");
        out.put(Attribute.TRANSPORT, "udp");
        out.put(Attribute.PORT, port.toString());
        out.put(Attribute.PUBLIC_KEY, publicKey);
        out.put(
                Attribute.TUNNEL_NETWORK,
                String.join(
                        ", ",
                        own.addresses().stream()
                                .map(a -> a.network().toString())
                                .toList()));
        own.addresses().stream()
                .findFirst()
                .ifPresent(a -> out.put(Attribute.INSIDE_ADDRESS, a.address().toString()));
        out.put(Attribute.PEERS, Integer.toString(reading.file().peers().size()));
        answers.status()
                .ifPresent(status -> out.put(
                        Attribute.ACTIVE,
                        status.named(name)
                                        .filter(i -> i.listenPort() == port.number()
                                                && i.publicKey()
                                                        .filter(k ->
                                                                k.toString().equals(publicKey))
                                                        .isPresent())
                                        .isPresent()
                                ? "yes"
                                : "no"));
        return new Listener(name, out);
    }

    private Listener openvpn(FileRule rule, String name, String text) {
        OpenVpnFile.Reading reading = OpenVpnFile.read(text);
        if (!reading.problems().isEmpty()) {
            throw new MalformedException(
                    "openvpn", "", reading.problems().get(0).toString());
        }
        return OpenVpnServerConfig.read(name, reading.file(), path -> content(rule, path))
                .with(rule.fixed());
    }

    /** A file that a configuration names: by its whole path, or beside the configuration. */
    private Optional<byte[]> content(FileRule rule, String path) {
        String whole = path.startsWith("/") ? path.substring(1) : (rule.folder() + "/" + path).replaceFirst("^/+", "");
        return Optional.ofNullable(answers.files().get(whole));
    }

    /** A file by its whole path, or by the end of it. */
    private Optional<byte[]> anywhere(String path) {
        return answers.files().entrySet().stream()
                .filter(e -> path.equals("/" + e.getKey()) || e.getKey().endsWith("/" + path))
                .map(Map.Entry::getValue)
                .findFirst();
    }

    /** Tunnel addresses that a WireGuard file gives to its own end and to peers. */
    public static List<IpAddress> taken(WireGuardFile file) {
        List<IpAddress> out = new ArrayList<>();
        file.own().ifPresent(own -> own.addresses().forEach(a -> out.add(a.address())));
        file.peers()
                .forEach(peer -> peer.allowed().stream()
                        .filter(n -> n.prefix() == n.address().family().bits())
                        .forEach(n -> out.add(n.address())));
        return out;
    }
}
