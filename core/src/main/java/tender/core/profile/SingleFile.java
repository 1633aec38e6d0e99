package tender.core.profile;

import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.profile.OpenVpnFile.Directive;

/** OpenVPN client files in one piece or in several: what a file names is written into it, or taken out of it. */
public final class SingleFile {
    private static final List<String> PARTS =
            List.of("ca", "cert", "key", "pkcs12", "tls-auth", "tls-crypt", "tls-crypt-v2", "extra-certs", "secret");

    private SingleFile() {}

    /**
     * The file with everything inline that is at hand.
     *
     * @param beside contents by file name
     */
    public static OpenVpnFile inlined(OpenVpnFile file, Map<String, byte[]> beside) {
        OpenVpnFile out = file;
        for (String part : PARTS) {
            Optional<Directive> d = out.last(part).filter(x -> x.block().isEmpty());
            byte[] content =
                    d.flatMap(x -> x.word(0)).map(w -> beside.get(last(w))).orElse(null);
            if (content == null) {
                continue;
            }
            Optional<String> direction = d.get().word(1).filter(w -> w.equals("0") || w.equals("1"));
            out = out.withBlock(part, text(part, content));
            if (part.equals("tls-auth") && direction.isPresent() && !out.has("key-direction")) {
                out = out.with("key-direction", direction.get());
            }
        }
        return out;
    }

    /** The file with its blocks taken out, and those by the names it then has for them. */
    public static Map.Entry<OpenVpnFile, Map<String, byte[]>> separated(OpenVpnFile file, String stem) {
        OpenVpnFile out = file;
        Map<String, byte[]> parts = new LinkedHashMap<>();
        for (String part : PARTS) {
            Optional<String> block = out.last(part).flatMap(Directive::block);
            if (block.isEmpty()) {
                continue;
            }
            String name = stem + "-" + part + (part.equals("pkcs12") ? ".p12" : ".pem");
            parts.put(
                    name,
                    part.equals("pkcs12")
                            ? Base64.getMimeDecoder().decode(block.get())
                            : (block.get().strip() + "\n").getBytes(StandardCharsets.ISO_8859_1));
            out = out.with(part, name);
        }
        return Map.entry(out, parts);
    }

    private static String text(String part, byte[] content) {
        return part.equals("pkcs12")
                ? Base64.getMimeEncoder(64, new byte[] {'\n'}).encodeToString(content)
                : new String(content, StandardCharsets.ISO_8859_1);
    }

    private static String last(String path) {
        return path.substring(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1);
    }
}
