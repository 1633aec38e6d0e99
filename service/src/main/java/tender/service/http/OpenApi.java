package tender.service.http;

import com.fasterxml.jackson.databind.node.ObjectNode;
import com.github.victools.jsonschema.generator.CustomDefinition;
import com.github.victools.jsonschema.generator.Option;
import com.github.victools.jsonschema.generator.OptionPreset;
import com.github.victools.jsonschema.generator.SchemaBuilder;
import com.github.victools.jsonschema.generator.SchemaGenerator;
import com.github.victools.jsonschema.generator.SchemaGeneratorConfig;
import com.github.victools.jsonschema.generator.SchemaGeneratorConfigBuilder;
import com.github.victools.jsonschema.generator.SchemaVersion;
import io.javalin.http.HandlerType;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tender.api.Problem;
import tender.core.credential.Secret;
import tender.core.office.Change;

/** The OpenAPI 3.1 document, made from the table of routes and the request and answer types. */
public final class OpenApi {
    private static final Pattern PARAMETER = Pattern.compile("\\{([a-z]+)}");

    private final SchemaGenerator requests;
    /** What the service answers: all fields are there, and null where nothing is; every record has a name. */
    private final SchemaBuilder answers;

    private OpenApi() {
        this.requests = new SchemaGenerator(config(Option.INLINE_ALL_SCHEMAS)
                .with(Option.FLATTENED_OPTIONALS)
                .build());
        SchemaGeneratorConfigBuilder named = config(Option.DEFINITIONS_FOR_ALL_OBJECTS, Option.FLATTENED_OPTIONALS);
        named.forTypesInGeneral()
                .withDefinitionNamingStrategy(
                        (key, context) -> name(key.getType().getErasedType()));
        named.forFields()
                .withRequiredCheck(field -> !field.isFakeContainerItemScope())
                .withNullableCheck(field -> !field.isFakeContainerItemScope()
                        && field.getRawMember().getType() == Optional.class);
        this.answers = new SchemaGenerator(named.build()).buildMultipleSchemaDefinitions();
    }

    /** {@code Trial.Rung} for the record {@code TrialApi.Rung}. */
    private static String name(Class<?> type) {
        Class<?> outer = type.getEnclosingClass();
        return (outer == null ? "" : outer.getSimpleName().replaceAll("Api$", "") + ".") + type.getSimpleName();
    }

    private static SchemaGeneratorConfigBuilder config(Option... options) {
        SchemaGeneratorConfigBuilder config = new SchemaGeneratorConfigBuilder(
                        SchemaVersion.DRAFT_2020_12, OptionPreset.PLAIN_JSON)
                .with(Option.EXTRA_OPEN_API_FORMAT_VALUES)
                .without(Option.SCHEMA_VERSION_INDICATOR);
        for (Option option : options) {
            config.with(option);
        }
        config.forTypesInGeneral()
                .withCustomDefinitionProvider((type, context) -> type.getErasedType() == Secret.class
                        ? new CustomDefinition(
                                context.getGeneratorConfig()
                                        .createObjectNode()
                                        .put("type", "string")
                                        .put("format", "password"),
                                CustomDefinition.DefinitionType.INLINE,
                                CustomDefinition.AttributeInclusion.YES)
                        : null)
                .withCustomDefinitionProvider((type, context) -> type.isInstanceOf(Map.class)
                        ? new CustomDefinition(
                                texts(context.getGeneratorConfig()),
                                CustomDefinition.DefinitionType.INLINE,
                                CustomDefinition.AttributeInclusion.YES)
                        : null)
                .withCustomDefinitionProvider((type, context) -> type.getErasedType() == Change.class
                        ? new CustomDefinition(change(context.getGeneratorConfig()))
                        : null);
        return config;
    }

    /** Texts by their names; no other maps are answered. */
    private static ObjectNode texts(SchemaGeneratorConfig config) {
        ObjectNode out = config.createObjectNode().put("type", "object");
        out.putObject("additionalProperties").put("type", "string");
        return out;
    }

    /** One of many forms, told apart by a word; the gateway API's description lists them. */
    private static ObjectNode change(SchemaGeneratorConfig config) {
        ObjectNode out = config.createObjectNode().put("type", "object");
        out.putObject("properties").putObject("change").put("type", "string");
        out.putArray("required").add("change");
        return out.put("additionalProperties", true);
    }

    /** The description of all routes, OpenAPI 3.1 in JSON. */
    public static byte[] document(List<Route> routes) {
        OpenApi made = new OpenApi();
        Map<String, Map<String, Object>> paths = new LinkedHashMap<>();
        for (Route route : routes) {
            paths.computeIfAbsent(Gate.PREFIX + route.path(), p -> new LinkedHashMap<>())
                    .put(route.verb().name().toLowerCase(Locale.ROOT), made.operation(route));
        }
        Map<String, Object> document = new LinkedHashMap<>();
        document.put("openapi", "3.1.0");
        document.put(
                "info",
                Map.of(
                        "title",
                        "Tender",
                        "version",
                        "1",
                        "description",
                        "Office gateways, the profiles handed out for them, and the proof that they work. "
                                + Limits.words()));
        document.put("paths", paths);
        document.put(
                "components",
                Map.of(
                        "schemas",
                        made.answers.collectDefinitions("components/schemas"),
                        "securitySchemes",
                        Map.of(
                                "token", Map.of("type", "http", "scheme", "bearer"),
                                "browser", Map.of("type", "apiKey", "in", "cookie", "name", "__Host-tender"))));
        return Json.write(document);
    }

    private Map<String, Object> operation(Route route) {
        Map<String, Object> operation = new LinkedHashMap<>();
        operation.put("summary", route.summary());
        operation.put("x-roles", route.roles().stream().map(Role::word).sorted().toList());
        if (route.fresh()) {
            operation.put("x-fresh-sign-in", true);
        }
        operation.put(
                "security",
                route.roles().isEmpty()
                        ? List.of()
                        : List.of(Map.of("token", List.of()), Map.of("browser", List.of())));
        operation.put("parameters", parameters(route));
        route.request()
                .ifPresent(type -> operation.put(
                        "requestBody", Map.of("required", true, "content", json(requests.generateSchema(type)))));
        Map<String, Object> answers = new LinkedHashMap<>();
        answers.put(
                "2XX",
                route.answer().isPresent()
                        ? Map.of(
                                "description",
                                "done",
                                "content",
                                json(
                                        route.paged()
                                                ? page(route.answer().get())
                                                : answer(route.answer().get())))
                        : Map.of("description", "done"));
        answers.put(
                "default",
                Map.of(
                        "description",
                        "a problem",
                        "content",
                        Map.of("application/problem+json", Map.of("schema", answer(Problem.class)))));
        operation.put("responses", answers);
        return operation;
    }

    private Object answer(Class<?> type) {
        return answers.createSchemaReference(type);
    }

    private Object page(Class<?> item) {
        return Map.of(
                "type",
                "object",
                "properties",
                Map.of(
                        "items",
                        Map.of("type", "array", "items", answer(item)),
                        "next",
                        Map.of("type", List.of("string", "null"))),
                "required",
                List.of("items", "next"));
    }

    private static Map<String, Object> json(Object schema) {
        return Map.of("application/json", Map.of("schema", schema));
    }

    private static List<Map<String, Object>> parameters(Route route) {
        List<Map<String, Object>> out = new ArrayList<>();
        Matcher matcher = PARAMETER.matcher(route.path());
        while (matcher.find()) {
            out.add(parameter(matcher.group(1), "path", true));
        }
        if (route.paged()) {
            out.add(parameter("after", "query", false));
            out.add(parameter("limit", "query", false));
        }
        if (route.verb().equals(HandlerType.POST)) {
            out.add(parameter("Idempotency-Key", "header", false));
        } else if (route.verb().equals(HandlerType.PATCH)) {
            out.add(parameter("If-Match", "header", true));
        }
        return out;
    }

    private static Map<String, Object> parameter(String name, String in, boolean required) {
        return Map.of("name", name, "in", in, "required", required, "schema", Map.of("type", "string"));
    }
}
