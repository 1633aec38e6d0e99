package tender.store.document;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JavaType;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.Module;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.util.HashSet;
import java.util.Set;
import tender.core.wire.MalformedException;

/**
 * One kind of JSON that rows keep, such as the causes of a rung. It is written as {@code {"version": 1, "value": …}}; rows
 * from before versions were written hold the value alone, which is version 0 and of the same form as version 1.
 *
 * <p>Fields that are not known are left out when read: a field may be added, as an {@code Optional} or with a list, without
 * another version. Whoever changes what a field means raises the version and says in {@code upgrade} how an older row is
 * read. A row of a later version than is known here is refused rather than misread.
 *
 * @param <T> what is kept: values of core, and records that are written nowhere else
 */
public final class Document<T> {
    /** Makes the value of version {@code from}, from 0 on, one of version {@code from + 1}. */
    @FunctionalInterface
    public interface Upgrade {
        JsonNode next(int from, JsonNode value);
    }

    private static final int MAX_DEPTH = 32;
    private static final int MAX_TEXT = 12_000_000;
    private static final String API = "tender.api.";

    private final String name;
    private final int version;
    private final Upgrade upgrade;
    private final ObjectMapper mapper;
    private final JavaType type;

    private Document(String name, int version, TypeReference<T> type, Upgrade upgrade, Module... forms) {
        this.name = name;
        this.version = version;
        this.upgrade = upgrade;
        this.mapper = JsonMapper.builder(JsonFactory.builder()
                        .streamReadConstraints(StreamReadConstraints.builder()
                                .maxNestingDepth(MAX_DEPTH)
                                .maxStringLength(MAX_TEXT)
                                .build())
                        .build())
                .addModules(new JavaTimeModule(), new Jdk8Module(), new SecretModule())
                .addModules(forms)
                .disable(SerializationFeature.WRITE_DATES_AS_TIMESTAMPS)
                .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
                .build();
        this.type = mapper.constructType(type);
        refuseApi(type.getType(), new HashSet<>());
    }

    /**
     * A kind whose form never changed.
     *
     * @param name said in errors, such as {@code "trial causes"}
     * @param forms how values of core are written, where that is not by their components
     * @throws IllegalArgumentException where the type holds a record of the API
     */
    public static <T> Document<T> of(String name, TypeReference<T> type, Module... forms) {
        return new Document<>(name, 1, type, (from, value) -> value, forms);
    }

    /**
     * A kind that changed its form.
     *
     * @param version the one written; at least 2
     * @throws IllegalArgumentException where the type holds a record of the API
     */
    public static <T> Document<T> of(
            String name, int version, TypeReference<T> type, Upgrade upgrade, Module... forms) {
        return new Document<>(name, version, type, upgrade, forms);
    }

    /** What a row keeps of the value; a {@code Secret} is written only where its component says so. */
    public String write(T value) {
        ObjectNode document = mapper.createObjectNode().put("version", version);
        try {
            // by the declared type, which says how the cases of a sealed one are told apart
            document.set("value", mapper.readTree(mapper.writerFor(type).writeValueAsBytes(value)));
            return mapper.writeValueAsString(document);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** @throws MalformedException where the row holds something else, or is of a later version than is known */
    public T read(String json) {
        try {
            JsonNode node = mapper.readTree(json);
            boolean versioned = node.isObject() && node.path("version").isInt() && node.has("value");
            int found = versioned ? node.get("version").intValue() : 0;
            if (found > version) {
                throw new MalformedException(
                        "document-version",
                        name,
                        "was written in form " + found + ", and this release knows forms up to " + version
                                + ": start the newer release here, too");
            }
            JsonNode value = versioned ? node.get("value") : node;
            for (int from = Math.max(1, found); from < version; from++) {
                value = upgrade.next(from, value);
            }
            return mapper.readerFor(type).readValue(value);
        } catch (IOException e) {
            throw e.getCause() instanceof MalformedException own
                    ? own
                    : new MalformedException("document", name, "is not the JSON that this release keeps");
        }
    }

    /** The API changes with its clients, rows do not: a record of the one is never kept as the other. */
    private void refuseApi(Type of, Set<Type> seen) {
        if (!seen.add(of)) {
            return;
        }
        if (of instanceof ParameterizedType p) {
            for (Type argument : p.getActualTypeArguments()) {
                refuseApi(argument, seen);
            }
        } else if (of instanceof Class<?> c) {
            if (c.getName().startsWith(API)) {
                throw new IllegalArgumentException(name + " would keep a record of the API, " + c.getName());
            }
            if (c.isRecord()) {
                for (RecordComponent component : c.getRecordComponents()) {
                    refuseApi(component.getGenericType(), seen);
                }
            }
        }
    }
}
