package tender.io.gateway;

import com.fasterxml.jackson.annotation.JsonIgnoreProperties;
import com.fasterxml.jackson.annotation.JsonSubTypes;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.databind.DeserializationContext;
import com.fasterxml.jackson.databind.JsonMappingException;
import com.fasterxml.jackson.databind.KeyDeserializer;
import com.fasterxml.jackson.databind.SerializerProvider;
import com.fasterxml.jackson.databind.deser.std.StdDeserializer;
import com.fasterxml.jackson.databind.module.SimpleModule;
import com.fasterxml.jackson.databind.ser.std.StdSerializer;
import java.io.IOException;
import java.time.Duration;
import java.util.function.Function;
import tender.core.network.Cidr;
import tender.core.network.HostName;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.DeviceChange;
import tender.core.office.FirewallChange;
import tender.core.office.ListenerChange;
import tender.core.office.PortRange;
import tender.core.office.Side;
import tender.core.office.Uplink;
import tender.core.wire.MalformedException;

/**
 * The office's values as JSON: values as the texts people write, records by their components. The form is the one of the
 * gateway API ({@code docs/gateway-api.yaml}), of the records that a reading leaves, and of the API.
 */
public final class OfficeModule extends SimpleModule {
    private static final long serialVersionUID = 1L;

    public OfficeModule() {
        super("office");
        text(IpAddress.class, IpAddress::parse, IpAddress::toString);
        text(Cidr.class, Cidr::parse, Cidr::toString);
        text(InterfaceAddress.class, InterfaceAddress::parse, InterfaceAddress::toString);
        text(HostName.class, HostName::parse, HostName::toString);
        text(PortRange.class, PortRange::parse, PortRange::toString);
        text(Side.class, Side::parse, Side::word);
        text(Uplink.Kind.class, Uplink.Kind::parse, Uplink.Kind::word);
        text(Transport.class, OfficeModule::transport, Transport::word);
        text(Attribute.class, Attribute::parse, Attribute::word);
        text(Duration.class, t -> Duration.ofMillis(Long.parseLong(t)), d -> Long.toString(d.toMillis()));
        text(Port.class, Port::parse, Port::toString);
        addKeyDeserializer(Attribute.class, new AttributeKeys());
        addKeySerializer(Attribute.class, new AttributeKeyWriter());
        setMixInAnnotation(Change.class, ChangeForm.class);
        setMixInAnnotation(Device.class, Lenient.class);
    }

    private static Transport transport(String text) {
        return switch (text) {
            case "udp" -> Transport.UDP;
            case "tcp" -> Transport.TCP;
            default -> throw new MalformedException("transport", "", "udp or tcp");
        };
    }

    private <T> void text(Class<T> type, Function<String, T> parse, Function<T, String> print) {
        addSerializer(type, new Writer<>(type, print));
        addDeserializer(type, new Reader<>(type, parse));
    }

    /** A gateway may say more than we know. */
    @JsonIgnoreProperties(ignoreUnknown = true)
    private interface Lenient {}

    @JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "change")
    @JsonSubTypes({
        @JsonSubTypes.Type(value = ListenerChange.SetListener.class, name = "set-listener"),
        @JsonSubTypes.Type(value = ListenerChange.AddListener.class, name = "add-listener"),
        @JsonSubTypes.Type(value = ListenerChange.RemoveListener.class, name = "remove-listener"),
        @JsonSubTypes.Type(value = FirewallChange.PutForward.class, name = "put-forward"),
        @JsonSubTypes.Type(value = FirewallChange.DropForward.class, name = "drop-forward"),
        @JsonSubTypes.Type(value = FirewallChange.PutRule.class, name = "put-rule"),
        @JsonSubTypes.Type(value = FirewallChange.ReplaceRule.class, name = "replace-rule"),
        @JsonSubTypes.Type(value = FirewallChange.DropRule.class, name = "drop-rule"),
        @JsonSubTypes.Type(value = FirewallChange.MoveRule.class, name = "move-rule"),
        @JsonSubTypes.Type(value = DeviceChange.Demote.class, name = "demote"),
        @JsonSubTypes.Type(value = DeviceChange.PutNetwork.class, name = "put-network"),
        @JsonSubTypes.Type(value = DeviceChange.SetZone.class, name = "set-zone"),
        @JsonSubTypes.Type(value = ListenerChange.RenewCertificate.class, name = "renew-certificate"),
        @JsonSubTypes.Type(value = ListenerChange.RenewRevocations.class, name = "renew-revocations"),
        @JsonSubTypes.Type(value = ListenerChange.UseCertificate.class, name = "use-certificate"),
        @JsonSubTypes.Type(value = ListenerChange.PutRevocations.class, name = "put-revocations"),
        @JsonSubTypes.Type(value = DeviceChange.SetClock.class, name = "set-clock"),
        @JsonSubTypes.Type(value = DeviceChange.Reload.class, name = "reload")
    })
    private interface ChangeForm {}

    private static final class Writer<T> extends StdSerializer<T> {
        private static final long serialVersionUID = 1L;
        private final transient Function<T, String> print;

        private Writer(Class<T> type, Function<T, String> print) {
            super(type);
            this.print = print;
        }

        @Override
        public void serialize(T value, JsonGenerator out, SerializerProvider provider) throws IOException {
            out.writeString(print.apply(value));
        }
    }

    private static final class Reader<T> extends StdDeserializer<T> {
        private static final long serialVersionUID = 1L;
        private final transient Function<String, T> parse;

        private Reader(Class<T> type, Function<String, T> parse) {
            super(type);
            this.parse = parse;
        }

        @Override
        public T deserialize(JsonParser in, DeserializationContext context) throws IOException {
            String text = in.getValueAsString();
            try {
                if (text == null) {
                    throw new MalformedException("text", "", "a text is expected");
                }
                return parse.apply(text);
            } catch (MalformedException | NumberFormatException e) {
                throw JsonMappingException.from(in, "malformed", e);
            }
        }
    }

    private static final class AttributeKeys extends KeyDeserializer {
        @Override
        public Object deserializeKey(String key, DeserializationContext context) throws IOException {
            return Attribute.ofWord(key)
                    .orElseThrow(() -> JsonMappingException.from(context, "no such setting of a listener"));
        }
    }

    private static final class AttributeKeyWriter extends StdSerializer<Attribute> {
        private static final long serialVersionUID = 1L;

        private AttributeKeyWriter() {
            super(Attribute.class);
        }

        @Override
        public void serialize(Attribute value, JsonGenerator out, SerializerProvider provider) throws IOException {
            out.writeFieldName(value.word());
        }
    }
}
