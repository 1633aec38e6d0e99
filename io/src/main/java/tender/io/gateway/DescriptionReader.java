package tender.io.gateway;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import tender.core.device.CommandWords;
import tender.core.device.DeviceDescription;
import tender.core.device.DeviceDescription.FileRule;
import tender.core.device.DeviceDescription.Format;
import tender.core.device.DeviceDescription.Output;
import tender.core.device.DeviceDescription.OutputFormat;
import tender.core.device.DeviceDescription.Source;
import tender.core.device.DeviceDescription.Task;
import tender.core.device.LineTemplate;
import tender.core.office.Attribute;
import tender.core.wire.MalformedException;

/** Reads device descriptions out of YAML: plain maps, lists and texts only, bounded in size, depth and aliases. */
public final class DescriptionReader {
    public static final int MAX_BYTES = 64 * 1024;
    private static final int MAX_DEPTH = 12;
    /** Those that ship with Tender, by file name. */
    public static final List<String> SHIPPED = List.of(
            "plain-router",
            "office-nas",
            "linux-wireguard",
            "linux-openvpn",
            "linux-ipsec",
            "linux-network",
            "linux-nftables");

    private DescriptionReader() {}

    /** A description that ships with Tender. */
    public static DeviceDescription shipped(String name) {
        try (InputStream in = DescriptionReader.class.getResourceAsStream("/tender/devices/" + name + ".yaml")) {
            if (in == null) {
                throw new IllegalStateException("no description " + name);
            }
            return read(in.readAllBytes());
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    public static byte[] shippedText(String name) {
        try (InputStream in = DescriptionReader.class.getResourceAsStream("/tender/devices/" + name + ".yaml")) {
            return in.readAllBytes();
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Throws {@link MalformedException} with the place in the document. */
    public static DeviceDescription read(byte[] yaml) {
        if (yaml.length > MAX_BYTES) {
            throw new MalformedException("too-long", "description", "at most " + MAX_BYTES + " bytes");
        }
        LoadSettings settings = LoadSettings.builder()
                .setLabel("description")
                .setCodePointLimit(MAX_BYTES)
                .setMaxAliasesForCollections(0)
                .setAllowDuplicateKeys(false)
                .setAllowRecursiveKeys(false)
                .build();
        Object root;
        try {
            root = new Load(settings).loadFromString(new String(yaml, StandardCharsets.UTF_8));
        } catch (YamlEngineException e) {
            throw new MalformedException("yaml", "description", firstLine(e));
        } catch (StackOverflowError e) {
            throw new MalformedException("yaml", "description", "nested deeper than is read");
        }
        return description(new Node(root, "", 0));
    }

    private static String firstLine(YamlEngineException e) {
        String text = String.valueOf(e.getMessage());
        int line = text.indexOf("line ");
        return "not YAML as expected"
                + (line < 0
                        ? ""
                        : " at "
                                + text.substring(line, Math.min(text.length(), line + 24))
                                        .split("[:\n]")[0]);
    }

    /** A part of the document and where it stands. */
    private record Node(Object value, String place, int depth) {
        Map<String, Node> map() {
            if (!(value instanceof Map<?, ?> map) || depth > MAX_DEPTH) {
                throw new MalformedException("yaml", place, "keys with values are expected");
            }
            Map<String, Node> out = new LinkedHashMap<>();
            map.forEach((k, v) -> out.put(
                    String.valueOf(k), new Node(v, place.isEmpty() ? k.toString() : place + "." + k, depth + 1)));
            return out;
        }

        List<Node> list() {
            if (!(value instanceof List<?> list)) {
                throw new MalformedException("yaml", place, "a list is expected");
            }
            List<Node> out = new ArrayList<>();
            for (int i = 0; i < list.size(); i++) {
                out.add(new Node(list.get(i), place + "[" + i + "]", depth + 1));
            }
            return out;
        }

        String text() {
            if (value == null || value instanceof Map || value instanceof List) {
                throw new MalformedException("yaml", place, "a text is expected");
            }
            return value.equals(true) ? "yes" : value.equals(false) ? "no" : value.toString();
        }

        <T> T as(java.util.function.Function<String, T> parse) {
            try {
                return parse.apply(text());
            } catch (MalformedException e) {
                throw e.at(place);
            }
        }
    }

    private static void known(Node node, String... keys) {
        for (String key : node.map().keySet()) {
            if (!List.of(keys).contains(key)) {
                throw new MalformedException(
                        "unknown-key", node.place() + "." + key, "known here are: " + String.join(", ", keys));
            }
        }
    }

    private static DeviceDescription description(Node root) {
        known(
                root,
                "description",
                "title",
                "minimum-release",
                "add-listener",
                "read-through",
                "files",
                "commands",
                "outputs");
        Map<String, Node> map = root.map();
        EnumMap<Task, Source> commands = new EnumMap<>(Task.class);
        if (map.containsKey("commands")) {
            map.get("commands").map().forEach((word, node) -> {
                Source source = source(node);
                boolean several = source.file().filter(f -> f.indexOf('*') >= 0).isPresent();
                Task task = task(word, node);
                if (several && task != Task.CONNECTED && task != Task.EXPORT) {
                    throw new MalformedException(
                            "path", node.place(), "only the files of connected and export may have a *");
                }
                commands.put(task, source);
            });
        }
        return new DeviceDescription(
                required(map, "description").text(),
                required(map, "title").text(),
                Optional.ofNullable(map.get("minimum-release")).map(Node::text),
                Optional.ofNullable(map.get("add-listener"))
                        .map(Node::text)
                        .filter("yes"::equals)
                        .isPresent(),
                throughSudo(map),
                required(map, "files").list().stream()
                        .map(DescriptionReader::file)
                        .toList(),
                commands,
                map.containsKey("outputs")
                        ? map.get("outputs").list().stream()
                                .map(DescriptionReader::output)
                                .toList()
                        : List.of());
    }

    private static Output output(Node node) {
        known(node, "run", "format");
        return new Output(
                required(node.map(), "run").as(CommandWords::new),
                word(required(node.map(), "format"), OutputFormat.values(), OutputFormat::word));
    }

    private static <T> T word(Node node, T[] known, Function<T, String> words) {
        for (T value : known) {
            if (words.apply(value).equals(node.text())) {
                return value;
            }
        }
        throw new MalformedException(
                "word",
                node.place(),
                "one of " + Arrays.stream(known).map(words).collect(Collectors.joining(", ")));
    }

    private static boolean throughSudo(Map<String, Node> map) {
        Node through = map.get("read-through");
        if (through != null && !through.text().equals("sudo")) {
            throw new MalformedException("read-through", through.place(), "sudo is what files can be read through");
        }
        return through != null;
    }

    private static Node required(Map<String, Node> map, String key) {
        Node node = map.get(key);
        if (node == null) {
            throw new MalformedException("missing", key, "is needed");
        }
        return node;
    }

    private static Task task(String word, Node node) {
        for (Task task : Task.values()) {
            if (task.word().equals(word)) {
                return task;
            }
        }
        throw new MalformedException("task", node.place(), "no such task");
    }

    /** A command's words, or {@code file: PATH}. */
    private static Source source(Node node) {
        if (node.value() instanceof Map) {
            known(node, "file");
            return new Source(
                    Optional.empty(), Optional.of(required(node.map(), "file").as(DescriptionReader::path)));
        }
        return new Source(Optional.of(node.as(CommandWords::new)), Optional.empty());
    }

    private static String path(String text) {
        if (!text.matches("/[A-Za-z0-9._/-]*\\*?[A-Za-z0-9._-]+") || text.contains("..")) {
            throw new MalformedException(
                    "path", "", "an absolute path of letters, digits, dots and hyphens; one * stands for a listener");
        }
        return text;
    }

    private static FileRule file(Node node) {
        known(node, "path", "format", "keys", "lines", "words", "fixed", "apply", "restart");
        Map<String, Node> map = node.map();
        Map<String, String> keys = new LinkedHashMap<>();
        Map<String, LineTemplate> lines = new LinkedHashMap<>();
        Map<String, String> words = new LinkedHashMap<>();
        EnumMap<Attribute, String> fixed = new EnumMap<>(Attribute.class);
        part(map, "keys").forEach((k, n) -> keys.put(k, n.text()));
        part(map, "lines").forEach((k, n) -> lines.put(k, n.as(LineTemplate::parse)));
        part(map, "words").forEach((k, n) -> words.put(k, n.text()));
        part(map, "fixed").forEach((k, n) -> {
            try {
                fixed.put(Attribute.parse(k), n.text());
            } catch (MalformedException e) {
                throw e.at(n.place());
            }
        });
        EnumMap<Task, CommandWords> commands = new EnumMap<>(Task.class);
        for (Task task : List.of(Task.APPLY, Task.RESTART)) {
            Optional.ofNullable(map.get(task.word())).ifPresent(n -> commands.put(task, n.as(CommandWords::new)));
        }
        try {
            return new FileRule(
                    required(map, "path").text(),
                    word(required(map, "format"), Format.values(), Format::word),
                    keys,
                    lines,
                    words,
                    fixed,
                    commands);
        } catch (MalformedException e) {
            throw e.at(node.place());
        }
    }

    private static Map<String, Node> part(Map<String, Node> map, String key) {
        return map.containsKey(key) ? map.get(key).map() : Map.of();
    }
}
