package tender.core.device;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.certificate.PemText;
import tender.core.credential.Secret;
import tender.core.device.DeviceDescription.FileRule;
import tender.core.device.DeviceDescription.Format;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.OpenVpnFile.Directive;
import tender.core.profile.OpenVpnProfile;
import tender.core.profile.TlsCryptV2Key;
import tender.core.wire.MalformedException;

/**
 * What a device's files hold that clients of one OpenVPN listener need, and where it looks for the revocation list.
 *
 * @param authority the certificate it believes, DER
 * @param controlChannelKey as clients' files have it; of crypt-v2 the server's own key, from which each client gets another
 * @param listPath absolute path of the revocation list, where it checks one in a file of its own
 * @param list the revocation list itself, where it is among what was read
 */
public record SharedClientSettings(
        byte[] authority,
        Optional<OpenVpnProfile.ControlChannelKey> controlChannelKey,
        Optional<String> listPath,
        Optional<String> list) {
    /** The control-channel key for one more client's file. */
    public Optional<OpenVpnProfile.ControlChannelKey> controlChannelKeyOf(SecureRandom random, Instant now) {
        return controlChannelKey.map(w -> w.kind().equals("crypt-v2")
                ? new OpenVpnProfile.ControlChannelKey(
                        w.kind(), TlsCryptV2Key.forClient(w.key(), random, now), Optional.empty())
                : w);
    }

    private static final FileRule GATEWAY_API = FileRule.of("/openvpn/*.conf", Format.OPENVPN);

    /** Where a snapshot over the gateway API keeps what callers of a listener share; no leading slash. */
    public static String gatewayApiPath(String listener) {
        if (!listener.matches("[A-Za-z0-9._-]{1,60}")) {
            throw new MalformedException("listener", "client settings", "1 to 60 letters, digits, dots or hyphens");
        }
        return GATEWAY_API.pathOf(listener).substring(1);
    }

    /** What a gateway behind the gateway API told. */
    public static SharedClientSettings ofGatewayApi(Map<String, byte[]> files, String listener) {
        byte[] file = files.get(gatewayApiPath(listener));
        if (file == null) {
            throw new MalformedException(
                    "listener",
                    listener,
                    "its gateway does not provide the shared client settings of its OpenVPN listeners; import the files it makes itself: tender gateway export");
        }
        return of(GATEWAY_API, files, OpenVpnFile.read(text(file)).file());
    }

    /** @param files by path without the leading slash */
    public static SharedClientSettings of(DeviceDescription description, Map<String, byte[]> files, String listener) {
        for (FileRule rule : description.files()) {
            for (Map.Entry<String, byte[]> file : files.entrySet()) {
                if (rule.format() == Format.OPENVPN
                        && rule.name("/" + file.getKey())
                                .filter(listener::equals)
                                .isPresent()) {
                    return of(
                            rule, files, OpenVpnFile.read(text(file.getValue())).file());
                }
            }
        }
        throw new MalformedException("listener", listener, "no OpenVPN file of this device holds it");
    }

    private static SharedClientSettings of(FileRule rule, Map<String, byte[]> files, OpenVpnFile file) {
        byte[] authority = content(rule, files, file.last("ca"))
                .flatMap(text -> PemText.read(text).blocks().stream()
                        .filter(b -> b.label().equals("CERTIFICATE"))
                        .findFirst())
                .map(PemText.Block::der)
                .orElseThrow(() -> new MalformedException(
                        "authority", "ca", "the authority's certificate is not among the files that are read"));
        return new SharedClientSettings(
                authority,
                controlChannelKey(rule, files, file),
                file.last("crl-verify")
                        .flatMap(d -> d.word(0))
                        .filter(w -> !w.equals("[inline]"))
                        .map(w -> path(rule, w)),
                content(rule, files, file.last("crl-verify")));
    }

    private static Optional<OpenVpnProfile.ControlChannelKey> controlChannelKey(
            FileRule rule, Map<String, byte[]> files, OpenVpnFile file) {
        for (String kind : List.of("tls-crypt-v2", "tls-crypt", "tls-auth")) {
            Optional<Directive> d = file.last(kind);
            if (d.isPresent()) {
                String key = content(rule, files, d)
                        .orElseThrow(() -> new MalformedException(
                                "control-channel key", kind, "its key is not among the files that are read"));
                Optional<String> server = file.last("key-direction")
                        .flatMap(k -> k.word(0))
                        .or(() -> d.get().word(1));
                return Optional.of(new OpenVpnProfile.ControlChannelKey(
                        kind.substring(4),
                        Secret.of(key),
                        kind.equals("tls-auth") ? server.map(s -> s.equals("0") ? "1" : "0") : Optional.empty()));
            }
        }
        return Optional.empty();
    }

    private static Optional<String> content(FileRule rule, Map<String, byte[]> files, Optional<Directive> d) {
        return d.flatMap(x -> x.block().isPresent()
                ? x.block()
                : x.word(0).map(w -> files.get(path(rule, w).substring(1))).map(SharedClientSettings::text));
    }

    private static String path(FileRule rule, String word) {
        return word.startsWith("/") ? word : rule.folder() + "/" + word;
    }

    private static String text(byte[] content) {
        return new String(content, StandardCharsets.ISO_8859_1);
    }
}
