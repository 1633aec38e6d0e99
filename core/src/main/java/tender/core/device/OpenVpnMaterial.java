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
import tender.core.profile.OwnWrappingKey;
import tender.core.wire.MalformedException;

/**
 * What a box's files hold that clients of one OpenVPN listener need, and where it looks for the list of the revoked.
 *
 * @param authority the certificate it believes, DER
 * @param wrapping as clients' files have it; of crypt-v2 the server's own key, from which each client gets another
 * @param listPath absolute path of the revocation list, where it checks one in a file of its own
 * @param list the revocation list itself, where it is among what was read
 */
public record OpenVpnMaterial(
        byte[] authority,
        Optional<OpenVpnProfile.Wrapping> wrapping,
        Optional<String> listPath,
        Optional<String> list) {
    /** The wrapping for one more client's file. */
    public Optional<OpenVpnProfile.Wrapping> wrappingOf(SecureRandom random, Instant now) {
        return wrapping.map(w -> w.kind().equals("crypt-v2")
                ? new OpenVpnProfile.Wrapping(
                        w.kind(), OwnWrappingKey.forClient(w.key(), random, now), Optional.empty())
                : w);
    }

    private static final FileRule BRIDGE =
            new FileRule("/openvpn/*.conf", Format.OPENVPN, Map.of(), Map.of(), Map.of(), Map.of());

    /** Where a snapshot over the bridge interface keeps what callers of a listener share; no leading slash. */
    public static String bridgePath(String listener) {
        if (!listener.matches("[A-Za-z0-9._-]{1,60}")) {
            throw new MalformedException("listener", "material", "1 to 60 letters, digits, dots or hyphens");
        }
        return BRIDGE.pathOf(listener).substring(1);
    }

    /** What a gateway behind the bridge interface told. */
    public static OpenVpnMaterial ofBridge(Map<String, byte[]> files, String listener) {
        byte[] file = files.get(bridgePath(listener));
        if (file == null) {
            throw new MalformedException(
                    "listener",
                    listener,
                    "its gateway does not tell what callers of OpenVPN listeners share (material); adopt the files it makes itself: tender gateway export");
        }
        return of(BRIDGE, files, OpenVpnFile.read(text(file)).file());
    }

    /** @param files by path without the leading slash */
    public static OpenVpnMaterial of(DeviceDescription description, Map<String, byte[]> files, String listener) {
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
        throw new MalformedException("listener", listener, "no OpenVPN file of this box holds it");
    }

    private static OpenVpnMaterial of(FileRule rule, Map<String, byte[]> files, OpenVpnFile file) {
        byte[] authority = content(rule, files, file.last("ca"))
                .flatMap(text -> PemText.read(text).blocks().stream()
                        .filter(b -> b.label().equals("CERTIFICATE"))
                        .findFirst())
                .map(PemText.Block::der)
                .orElseThrow(() -> new MalformedException(
                        "authority", "ca", "the authority's certificate is not among the files that are read"));
        return new OpenVpnMaterial(
                authority,
                wrapping(rule, files, file),
                file.last("crl-verify")
                        .flatMap(d -> d.word(0))
                        .filter(w -> !w.equals("[inline]"))
                        .map(w -> path(rule, w)),
                content(rule, files, file.last("crl-verify")));
    }

    private static Optional<OpenVpnProfile.Wrapping> wrapping(
            FileRule rule, Map<String, byte[]> files, OpenVpnFile file) {
        for (String kind : List.of("tls-crypt-v2", "tls-crypt", "tls-auth")) {
            Optional<Directive> d = file.last(kind);
            if (d.isPresent()) {
                String key = content(rule, files, d)
                        .orElseThrow(() -> new MalformedException(
                                "wrapping", kind, "its key is not among the files that are read"));
                Optional<String> server = file.last("key-direction")
                        .flatMap(k -> k.word(0))
                        .or(() -> d.get().word(1));
                return Optional.of(new OpenVpnProfile.Wrapping(
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
                : x.word(0).map(w -> files.get(path(rule, w).substring(1))).map(OpenVpnMaterial::text));
    }

    private static String path(FileRule rule, String word) {
        return word.startsWith("/") ? word : rule.folder() + "/" + word;
    }

    private static String text(byte[] content) {
        return new String(content, StandardCharsets.ISO_8859_1);
    }
}
