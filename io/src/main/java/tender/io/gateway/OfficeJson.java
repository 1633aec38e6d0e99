package tender.io.gateway;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;
import java.io.IOException;
import java.io.UncheckedIOException;
import tender.core.wire.MalformedException;

/** JSON of the office's values, as a gateway's own API writes them. */
final class OfficeJson {
    private static final int MAX_DEPTH = 24;
    private static final ObjectMapper MAPPER = JsonMapper.builder(JsonFactory.builder()
                    .streamReadConstraints(StreamReadConstraints.builder()
                            .maxNestingDepth(MAX_DEPTH)
                            .maxStringLength(12_000_000)
                            .build())
                    .build())
            .addModules(new JavaTimeModule(), new Jdk8Module(), new OfficeModule())
            .disable(SerializationFeature.WRITE_DATES_AS_TIMESTAMPS)
            .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
            .build();

    private OfficeJson() {}

    public static <T> T read(byte[] json, Class<T> type) {
        try {
            T value = MAPPER.readValue(json, type);
            if (value == null) {
                throw new MalformedException("json", "", "an object is expected");
            }
            return value;
        } catch (IOException e) {
            throw malformed(e);
        }
    }

    private static MalformedException malformed(IOException e) {
        if (e.getCause() instanceof MalformedException m) {
            return m;
        }
        return new MalformedException("json", "", "not the JSON that is expected here");
    }

    public static byte[] write(Object value) {
        try {
            return MAPPER.writeValueAsBytes(value);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
