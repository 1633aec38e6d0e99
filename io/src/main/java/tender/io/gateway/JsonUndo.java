package tender.io.gateway;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Takes a change of a configuration document back and nothing else. Objects are compared field by field, lists whose members
 * are told apart by a name or by transport and port member by member, other lists as a whole.
 */
final class JsonUndo {
    private static final String NAME = "name";

    private JsonUndo() {}

    /** @return what {@code now} becomes; missing where the value goes */
    static Optional<JsonNode> of(JsonNode before, JsonNode after, JsonNode now) {
        if (equal(before, after)) {
            return Optional.ofNullable(now);
        }
        if (before == null || after == null || now == null || equal(after, now)) {
            return Optional.ofNullable(before);
        }
        if (before.isObject() && after.isObject() && now.isObject()) {
            return Optional.of(object(before, after, now));
        }
        if (before.isArray() && after.isArray() && now.isArray()) {
            return Optional.of(array(before, after, now));
        }
        return Optional.of(before);
    }

    private static boolean equal(JsonNode one, JsonNode other) {
        return one == null ? other == null : one.equals(other);
    }

    private static JsonNode object(JsonNode before, JsonNode after, JsonNode now) {
        ObjectNode out = now.deepCopy();
        Set<String> names = new LinkedHashSet<>();
        for (JsonNode each : List.of(now, after, before)) {
            each.fieldNames().forEachRemaining(names::add);
        }
        for (String name : names) {
            Optional<JsonNode> value = of(before.get(name), after.get(name), now.get(name));
            if (value.isPresent()) {
                out.set(name, value.get());
            } else {
                out.remove(name);
            }
        }
        return out;
    }

    private static JsonNode array(JsonNode before, JsonNode after, JsonNode now) {
        Optional<Map<String, JsonNode>> was = members(before);
        Optional<Map<String, JsonNode>> made = members(after);
        Optional<Map<String, JsonNode>> is = members(now);
        if (was.isEmpty() || made.isEmpty() || is.isEmpty()) {
            return before;
        }
        ArrayNode out = ((ArrayNode) now).arrayNode();
        Set<String> keys = new LinkedHashSet<>(is.get().keySet());
        keys.addAll(was.get().keySet());
        for (String key : keys) {
            of(was.get().get(key), made.get().get(key), is.get().get(key)).ifPresent(out::add);
        }
        return out;
    }

    /** Members by what tells them apart; empty where nothing does. */
    private static Optional<Map<String, JsonNode>> members(JsonNode list) {
        Map<String, JsonNode> out = new LinkedHashMap<>();
        List<JsonNode> all = new ArrayList<>();
        list.forEach(all::add);
        for (JsonNode member : all) {
            String key = member.path(NAME).isTextual()
                    ? member.path(NAME).asText()
                    : member.has("transport") && member.has("port")
                            ? member.path("transport").asText() + ":" + member.path("port")
                            : "";
            if (key.isEmpty() || out.put(key, member) != null) {
                return Optional.empty();
            }
        }
        return Optional.of(out);
    }
}
