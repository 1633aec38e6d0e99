package tender.core.trial;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import tender.core.network.Transport;
import tender.core.openvpn.ClientSettings;
import tender.core.openvpn.ClientSettings.ControlChannelKey;

/** What else can be tried of an OpenVPN file whose first packet gets no answer. One that does get an answer is the fault. */
public final class OtherWays {
    private static final List<String> DIGESTS = List.of("SHA1", "SHA256", "SHA512");
    private static final int CLIENTS = 1;

    /** One way, and the settings to try it with. */
    public record Way(Otherwise told, ClientSettings settings) {}

    private OtherWays() {}

    public static List<Way> of(ClientSettings file) {
        List<Way> out = new ArrayList<>();
        Transport other = file.call().transport() == Transport.TCP ? Transport.UDP : Transport.TCP;
        out.add(way(Otherwise.Kind.TRANSPORT, "over " + other.word(), file.over(other)));
        ControlChannelKey key = file.controlChannelKey();
        if (key.kind().equals("auth")) {
            Stream.of(Optional.<Integer>empty(), Optional.of(0), Optional.of(1))
                    .filter(d -> !Objects.equals(d, key.direction()))
                    .forEach(d -> out.add(way(
                            Otherwise.Kind.DIRECTION,
                            d.map(n -> "with key-direction " + n).orElse("without a key-direction"),
                            file.wrapped(new ControlChannelKey("auth", key.key(), d), file.digest()))));
            DIGESTS.stream()
                    .filter(d -> !d.equalsIgnoreCase(file.digest()))
                    .forEach(d -> out.add(way(Otherwise.Kind.DIGEST, "with auth " + d, file.wrapped(key, d))));
            out.add(way(
                    Otherwise.Kind.CONTROL_CHANNEL_KEY,
                    "with the key as tls-crypt",
                    file.wrapped(new ControlChannelKey("crypt", key.key(), Optional.empty()), file.digest())));
        }
        if (key.kind().equals("crypt")) {
            for (Optional<Integer> d : List.of(Optional.of(CLIENTS), Optional.<Integer>empty())) {
                out.add(way(
                        Otherwise.Kind.CONTROL_CHANNEL_KEY,
                        "with the key as tls-auth"
                                + d.map(n -> ", key-direction " + n).orElse(""),
                        file.wrapped(new ControlChannelKey("auth", key.key(), d), file.digest())));
            }
        }
        if (!key.kind().equals("none")) {
            out.add(way(
                    Otherwise.Kind.CONTROL_CHANNEL_KEY,
                    "without a control-channel key",
                    file.wrapped(ControlChannelKey.NONE, file.digest())));
        }
        return out;
    }

    private static Way way(Otherwise.Kind kind, String words, ClientSettings settings) {
        return new Way(new Otherwise(kind, words), settings);
    }
}
