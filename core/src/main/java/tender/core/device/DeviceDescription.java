package tender.core.device;

import java.util.Collections;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.office.Attribute;
import tender.core.wire.MalformedException;

/**
 * What a connector needs to know of one kind of device: which files hold what, and the fixed words of its commands.
 *
 * @param beside whether a listener can be put beside another by a file of its own
 * @param throughSudo whether files are read by {@code sudo -n}, since whoever signs in may not read them; such a device is read only
 * @param oldestRelease the oldest release whose settings the description is written for
 */
public record DeviceDescription(
        String name,
        String title,
        Optional<String> oldestRelease,
        boolean beside,
        boolean throughSudo,
        List<FileRule> files,
        Map<Task, Source> commands,
        List<Output> outputs) {
    private static final int MAX_FILES = 64;
    private static final int MAX_OUTPUTS = 16;
    /** Between the names of descriptions that describe one device together. */
    private static final String AND = "+";

    /** The same without its commands: it only says where files are. */
    public DeviceDescription filesAlone() {
        return new DeviceDescription(name, title, oldestRelease, beside, throughSudo, files, Map.of(), List.of());
    }

    /** How a file is written. */
    public enum Format {
        /** {@code key = value} lines; {@link FileRule#keys} says which key is what. */
        PAIRS,
        /** A record a line; {@link FileRule#lines} says how each kind is written. */
        LINES,
        /** WireGuard's configuration file; the listener is named by the file. */
        WIREGUARD,
        /** OpenVPN's server configuration file; the listener is named by the file. */
        OPENVPN,
        /** strongSwan's swanctl configuration; each connection that waits for clients is a listener of its name. */
        SWANCTL,
        /** Kept in backups and not looked into. */
        KEPT;

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    /** What a command of the system prints that is read. */
    public enum OutputFormat {
        /** {@code ip -j address}: interfaces and their addresses. */
        IP_ADDRESSES,
        /** {@code ip -j route}: which interface leads out. */
        IP_ROUTES,
        /** {@code nft -j list ruleset}: filter rules and forwards. */
        NFTABLES,
        /** {@code timedatectl show}: the time zone. */
        TIMEDATECTL;

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
        }
    }

    /** A command that only reads, and what it prints. */
    public record Output(CommandWords run, OutputFormat format) {}

    /** What can be asked of a device. */
    public enum Task {
        /** Takes the files up. */
        APPLY,
        /** Starts one listener anew. */
        RESTART,
        /** Peers of WireGuard interfaces as WireGuard's tools dump them. */
        STATUS,
        /** People connected to OpenVPN servers, as their status file has them. */
        CONNECTED,
        CLOCK,
        SET_CLOCK,
        RELEASE,
        LOG,
        /** The client files that the device made itself, as one file or archive; a file only. */
        EXPORT,
        /**
         * Sets and drops accounts of callers, all or none: lines {@code set NAME PASSWORD} and {@code drop NAME} on its
         * standard input, so that no password stands on a command line.
         */
        ACCOUNTS,
        /** Arms the return of what is active now after some seconds. */
        ARM,
        DISARM;

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
        }
    }

    /** Where an answer comes from: a command's output or a file. Exactly one is given. */
    public record Source(Optional<CommandWords> run, Optional<String> file) {
        public Source {
            if (run.isPresent() == file.isPresent()) {
                throw new MalformedException("source", "", "either run or file");
            }
        }
    }

    /**
     * One file or, with a {@code *} in its last part, all of that name in its folder.
     *
     * @param keys for pairs: what is meant, by the file's own key; {@code *} in a key stands for a name
     * @param lines for lines: the template of each kind of record
     * @param words for lines: the file's own word for one of ours
     * @param fixed attributes that every listener of the file has
     * @param commands how the file is applied and its listeners are restarted, where that is not as for the whole device
     */
    public record FileRule(
            String path,
            Format format,
            Map<String, String> keys,
            Map<String, LineTemplate> lines,
            Map<String, String> words,
            Map<Attribute, String> fixed,
            Map<Task, CommandWords> commands) {
        /** What a key of pairs can mean beside the settings of listeners. */
        private static final List<String> MEANINGS = List.of(
                "make",
                "model",
                "release",
                "zone",
                "inside-host",
                "network",
                "pool",
                "reservation",
                "uplink",
                "interface",
                "account",
                "filter-otherwise");

        public FileRule {
            if (!path.matches("/[A-Za-z0-9._/-]*[A-Za-z0-9._*-]+") || path.contains("/../") || path.contains("//")) {
                throw new MalformedException("path", "path", "an absolute path of letters, digits, dots and hyphens");
            }
            int star = path.indexOf('*');
            if (star >= 0 && (star < path.lastIndexOf('/') || star != path.lastIndexOf('*'))) {
                throw new MalformedException("path", "path", "one * may stand in the last part");
            }
            keys.forEach((key, meaning) -> {
                if (!MEANINGS.contains(meaning) && Attribute.ofWord(meaning).isEmpty()) {
                    throw new MalformedException(
                            "meaning",
                            "keys." + key,
                            "no such meaning: a setting of a listener, or one of " + String.join(", ", MEANINGS));
                }
            });
            keys = Collections.unmodifiableMap(new LinkedHashMap<>(keys));
            lines = Collections.unmodifiableMap(new LinkedHashMap<>(lines));
            words = Map.copyOf(words);
            EnumMap<Attribute, String> copy = new EnumMap<>(Attribute.class);
            copy.putAll(fixed);
            fixed = Collections.unmodifiableMap(copy);
            commands = Map.copyOf(commands);
        }

        /** A file whose format says all. */
        public static FileRule of(String path, Format format) {
            return new FileRule(path, format, Map.of(), Map.of(), Map.of(), Map.of(), Map.of());
        }

        /** Whether the files can hold listeners. */
        public boolean holdsListeners() {
            return format == Format.WIREGUARD
                    || format == Format.OPENVPN
                    || format == Format.SWANCTL
                    || format == Format.PAIRS
                            && (fixed.containsKey(Attribute.PROTOCOL) || keys.containsValue(Attribute.PROTOCOL.word()));
        }

        /** With commands of the whole device for what has none of its own. */
        private FileRule with(Map<Task, CommandWords> ofDevice) {
            Map<Task, CommandWords> all = new EnumMap<>(Task.class);
            all.putAll(ofDevice);
            all.putAll(commands);
            return new FileRule(path, format, keys, lines, words, fixed, all);
        }

        public String folder() {
            int slash = path.lastIndexOf('/');
            return slash == 0 ? "/" : path.substring(0, slash);
        }

        /** What the {@code *} stands for in a path; empty where it does not fit. */
        public Optional<String> name(String candidate) {
            int star = path.indexOf('*');
            if (star < 0) {
                String file = path.substring(path.lastIndexOf('/') + 1);
                int dot = file.lastIndexOf('.');
                return candidate.equals(path) ? Optional.of(dot > 0 ? file.substring(0, dot) : file) : Optional.empty();
            }
            String before = path.substring(0, star);
            String after = path.substring(star + 1);
            boolean fits = candidate.length() > before.length() + after.length()
                    && candidate.startsWith(before)
                    && candidate.endsWith(after);
            if (!fits) {
                return Optional.empty();
            }
            String name = candidate.substring(before.length(), candidate.length() - after.length());
            return name.contains("/") ? Optional.empty() : Optional.of(name);
        }

        public String pathOf(String name) {
            return path.replace("*", name);
        }
    }

    public DeviceDescription {
        if (!names(name).stream().allMatch(n -> n.matches("[a-z][a-z0-9-]{0,39}"))) {
            throw new MalformedException("name", "description", "1 to 40 lower-case letters, digits or hyphens");
        }
        if (outputs.size() > MAX_OUTPUTS) {
            throw new MalformedException("outputs", "outputs", "at most " + MAX_OUTPUTS + " commands");
        }
        outputs = List.copyOf(outputs);
        if (files.isEmpty() || files.size() > MAX_FILES) {
            throw new MalformedException("files", "files", "1 to " + MAX_FILES + " files");
        }
        files = List.copyOf(files);
        commands = commands.isEmpty() ? Map.of() : Collections.unmodifiableMap(new EnumMap<>(commands));
    }

    /** The names of the descriptions that one name is made of: {@code linux-wireguard+linux-nftables} of two. */
    public static List<String> names(String name) {
        return List.of(name.split("\\" + AND, -1));
    }

    /**
     * One description of a device that several describe, each a part of it. Files are applied by the commands of their own part; of
     * what can be asked of the device as a whole, the first part that has a way is asked.
     *
     * @throws MalformedException where two of them speak of the same listener files
     */
    public static DeviceDescription together(List<DeviceDescription> parts) {
        if (parts.size() == 1) {
            return parts.get(0);
        }
        Map<String, FileRule> files = new LinkedHashMap<>();
        EnumMap<Task, Source> commands = new EnumMap<>(Task.class);
        Set<Output> outputs = new LinkedHashSet<>();
        for (DeviceDescription part : parts) {
            Map<Task, CommandWords> own = new EnumMap<>(Task.class);
            for (Task task : List.of(Task.APPLY, Task.RESTART)) {
                Optional.ofNullable(part.commands.get(task))
                        .flatMap(Source::run)
                        .ifPresent(c -> own.put(task, c));
            }
            for (FileRule rule : part.files) {
                FileRule before = files.putIfAbsent(rule.path, rule.holdsListeners() ? rule.with(own) : rule);
                if (before != null && before.holdsListeners()) {
                    throw new MalformedException("description", "description", "two of them describe " + rule.path);
                }
            }
            part.commands.forEach((task, source) -> {
                if (!own.containsKey(task)) {
                    commands.putIfAbsent(task, source);
                }
            });
            outputs.addAll(part.outputs);
        }
        return new DeviceDescription(
                String.join(AND, parts.stream().map(DeviceDescription::name).toList()),
                String.join("; ", parts.stream().map(DeviceDescription::title).toList()),
                Optional.empty(),
                parts.stream().anyMatch(DeviceDescription::beside),
                parts.stream().anyMatch(DeviceDescription::throughSudo),
                List.copyOf(files.values()),
                commands,
                List.copyOf(outputs));
    }

    /** Whether a file or a whole device has a way to do something. */
    public boolean has(Task task) {
        return commands.containsKey(task) || files.stream().anyMatch(f -> f.commands.containsKey(task));
    }

    /** The folders that are read, each once. */
    public List<String> folders() {
        Set<String> out = new LinkedHashSet<>();
        files.forEach(f -> out.add(f.folder()));
        return List.copyOf(out);
    }

    /** Whether a file of a folder is one that the description speaks of. */
    public boolean speaksOf(String path) {
        return files.stream().anyMatch(f -> f.name(path).isPresent());
    }

    /** The rule of a format whose files hold listeners. */
    public Optional<FileRule> rule(Format format) {
        return files.stream().filter(f -> f.format() == format).findFirst();
    }

    /** The WireGuard file of a listener. */
    public String tunnelFile(String listener) {
        return rule(Format.WIREGUARD)
                .map(f -> f.pathOf(listener))
                .orElseThrow(() -> new MalformedException(
                        "description", name, "describes no WireGuard files, so no peer can be written"));
    }
}
