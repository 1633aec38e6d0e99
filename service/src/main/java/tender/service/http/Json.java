package tender.service.http;

import com.fasterxml.jackson.annotation.JsonSetter;
import com.fasterxml.jackson.annotation.Nulls;
import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.StreamReadFeature;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonMappingException;
import com.fasterxml.jackson.databind.MapperFeature;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.cfg.CoercionAction;
import com.fasterxml.jackson.databind.cfg.CoercionInputShape;
import com.fasterxml.jackson.databind.exc.UnrecognizedPropertyException;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.type.LogicalType;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.stream.Collectors;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;
import tender.io.gateway.OfficeModule;
import tender.store.document.SecretModule;

/** JSON in and out. Bad input ends in a {@link MalformedException} with a path, never with the value. */
public final class Json {
    private static final int MAX_DEPTH = 32;
    private static final int MAX_STRING = 5_000_000;

    private static final ObjectMapper MAPPER = mapper();

    private Json() {}

    private static ObjectMapper mapper() {
        JsonFactory factory = JsonFactory.builder()
                .streamReadConstraints(StreamReadConstraints.builder()
                        .maxNestingDepth(MAX_DEPTH)
                        .maxStringLength(MAX_STRING)
                        .maxNumberLength(40)
                        .build())
                .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
                .disable(StreamReadFeature.INCLUDE_SOURCE_IN_LOCATION)
                .build();
        return JsonMapper.builder(factory)
                .addModules(new JavaTimeModule(), new Jdk8Module(), new SecretModule(), new OfficeModule())
                .disable(SerializationFeature.WRITE_DATES_AS_TIMESTAMPS)
                .enable(DeserializationFeature.FAIL_ON_TRAILING_TOKENS)
                .disable(MapperFeature.ALLOW_COERCION_OF_SCALARS)
                // a list that was left out is empty; whoever needs an entry says so
                .withConfigOverride(
                        List.class, list -> list.setSetterInfo(JsonSetter.Value.forValueNulls(Nulls.AS_EMPTY)))
                .withCoercionConfig(LogicalType.Textual, text -> {
                    for (CoercionInputShape shape :
                            List.of(CoercionInputShape.Integer, CoercionInputShape.Float, CoercionInputShape.Boolean)) {
                        text.setCoercion(shape, CoercionAction.Fail);
                    }
                })
                .build();
    }

    /** @throws MalformedException with the path of what cannot be read, never with its value */
    public static <T> T read(byte[] body, Class<T> type) {
        try {
            T value = MAPPER.readValue(body, type);
            if (value == null) {
                throw new MalformedException("json", "", "a JSON object is expected");
            }
            return value;
        } catch (UnrecognizedPropertyException e) {
            throw new MalformedException(
                    "unknown-field",
                    path(e.getPath().subList(0, e.getPath().size() - 1)),
                    "has a field that is not known here");
        } catch (JsonMappingException e) {
            if (e.getCause() instanceof MalformedException own) { // thrown by the value itself, which knows better
                throw own.at(path(e.getPath()));
            }
            throw new MalformedException("json", path(e.getPath()), "is of the wrong kind");
        } catch (JsonProcessingException e) {
            throw new MalformedException(
                    "json",
                    "line " + (e.getLocation() == null ? 1 : e.getLocation().getLineNr()),
                    "is not JSON, or nested or long beyond what is read");
        } catch (IOException e) {
            throw new MalformedException("json", "", "is not JSON in UTF-8");
        }
    }

    /** Field names come from our own types; unknown ones are left out above. */
    private static String path(List<JsonMappingException.Reference> path) {
        return path.stream()
                .map(r -> r.getFieldName() != null ? r.getFieldName() : "[" + r.getIndex() + "]")
                .filter(part -> part.matches("[A-Za-z]{1,40}|\\[[0-9]+]"))
                .collect(Collectors.joining("."));
    }

    /** Whether a type of answers has a place for a secret, directly or in what it holds. */
    static boolean holdsSecret(Class<?> type) {
        return holdsSecret(type, new java.util.HashSet<>());
    }

    private static boolean holdsSecret(java.lang.reflect.Type type, java.util.Set<java.lang.reflect.Type> seen) {
        if (!seen.add(type)) {
            return false;
        }
        if (type instanceof java.lang.reflect.ParameterizedType p) {
            return java.util.Arrays.stream(p.getActualTypeArguments()).anyMatch(t -> holdsSecret(t, seen));
        }
        if (type instanceof Class<?> c && c.isRecord()) {
            return java.util.Arrays.stream(c.getRecordComponents())
                    .anyMatch(r -> holdsSecret(r.getGenericType(), seen));
        }
        return type == Secret.class;
    }

    /** @throws UncheckedIOException where a secret would be written whose component is not {@code @Revealed} */
    public static byte[] write(Object value) {
        try {
            return MAPPER.writeValueAsBytes(value);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
