package tender.client.command;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.databind.DeserializationContext;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JavaType;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.SerializerProvider;
import com.fasterxml.jackson.databind.deser.std.StdDeserializer;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.module.SimpleModule;
import com.fasterxml.jackson.databind.ser.std.StdSerializer;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;
import java.io.IOException;
import java.io.UncheckedIOException;
import tender.api.Page;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.io.gateway.OfficeModule;

/** JSON as the service writes it. */
public final class Json {
    private static final ObjectMapper MAPPER = JsonMapper.builder()
            .addModules(
                    new JavaTimeModule(),
                    new Jdk8Module(),
                    new OfficeModule(),
                    new SimpleModule()
                            .addSerializer(Secret.class, new Writer())
                            .addDeserializer(Secret.class, new Reader()))
            .disable(SerializationFeature.WRITE_DATES_AS_TIMESTAMPS)
            .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
            .build();

    private Json() {}

    public static <T> T read(byte[] body, Class<T> type) {
        return read(body, MAPPER.constructType(type));
    }

    public static <T> Page<T> page(byte[] body, Class<T> item) {
        return read(body, MAPPER.getTypeFactory().constructParametricType(Page.class, item));
    }

    private static <T> T read(byte[] body, JavaType type) {
        try {
            return MAPPER.readValue(body, type);
        } catch (IOException e) {
            throw CallFailure.of(
                    tender.api.ProblemCode.UNAVAILABLE, "the answer is not one of Tender's; check the address");
        }
    }

    public static byte[] write(Object value) {
        try {
            return MAPPER.writeValueAsBytes(value);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    public static String pretty(Object value) {
        try {
            return MAPPER.writerWithDefaultPrettyPrinter().writeValueAsString(value);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static final class Writer extends StdSerializer<Secret> {
        private static final long serialVersionUID = 1L;

        private Writer() {
            super(Secret.class);
        }

        @Override
        public void serialize(Secret value, JsonGenerator out, SerializerProvider provider) throws IOException {
            out.writeString(value.revealText(RevealSecret.TO_HAND_OUT));
        }
    }

    private static final class Reader extends StdDeserializer<Secret> {
        private static final long serialVersionUID = 1L;

        private Reader() {
            super(Secret.class);
        }

        @Override
        public Secret deserialize(JsonParser in, DeserializationContext context) throws IOException {
            return Secret.of(in.getText());
        }
    }
}
