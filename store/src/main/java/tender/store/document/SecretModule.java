package tender.store.document;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.databind.BeanProperty;
import com.fasterxml.jackson.databind.DeserializationContext;
import com.fasterxml.jackson.databind.JsonMappingException;
import com.fasterxml.jackson.databind.JsonSerializer;
import com.fasterxml.jackson.databind.SerializerProvider;
import com.fasterxml.jackson.databind.deser.std.StdDeserializer;
import com.fasterxml.jackson.databind.module.SimpleModule;
import com.fasterxml.jackson.databind.ser.ContextualSerializer;
import com.fasterxml.jackson.databind.ser.std.StdSerializer;
import java.io.IOException;
import tender.core.credential.RevealSecret;
import tender.core.credential.Revealed;
import tender.core.credential.Secret;

/** Secrets in JSON: read anywhere, written only where the component is {@link Revealed}. */
public final class SecretModule extends SimpleModule {
    private static final long serialVersionUID = 1L;

    public SecretModule() {
        super("secrets");
        addSerializer(Secret.class, new Writer(false));
        addDeserializer(Secret.class, new Reader());
    }

    private static final class Writer extends StdSerializer<Secret> implements ContextualSerializer {
        private static final long serialVersionUID = 1L;
        private final boolean revealed;

        private Writer(boolean revealed) {
            super(Secret.class);
            this.revealed = revealed;
        }

        @Override
        public JsonSerializer<?> createContextual(SerializerProvider provider, BeanProperty property) {
            return new Writer(property != null && property.getAnnotation(Revealed.class) != null);
        }

        @Override
        public void serialize(Secret value, JsonGenerator out, SerializerProvider provider) throws IOException {
            if (!revealed) {
                throw JsonMappingException.from(out, "a secret is written only where its component says @Revealed");
            }
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
            String text = in.getValueAsString();
            if (text == null) {
                throw JsonMappingException.from(in, "text is expected");
            }
            return Secret.of(text);
        }
    }
}
