package tender.core.profile;

import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;

/**
 * All that a device needs for an IKEv2 connection, kept as one text: the swanctl section, and after it the parts that the
 * section names as PEM blocks (RFC 7468, which lets text stand before a block).
 *
 * @param certificate of the device in PEM; empty where it proves itself by a password
 * @param authority in PEM
 */
public record IkeProfile(
        String section, Optional<String> certificate, Optional<Secret> key, Optional<String> authority) {
    private static final String BEGIN = "-----BEGIN ";

    public String text() {
        StringBuilder out = new StringBuilder(section);
        if (!section.endsWith("\n")) {
            out.append('\n');
        }
        certificate.ifPresent(c -> out.append("# the device's certificate\n").append(c));
        key.ifPresent(k -> out.append("# its key\n").append(k.revealText(RevealSecret.TO_WRITE_FILE)));
        authority.ifPresent(a -> out.append("# the authority's certificate\n").append(a));
        return out.toString();
    }

    public static IkeProfile read(String text) {
        int at = text.indexOf(BEGIN);
        String before = at < 0 ? text : text.substring(0, at);
        int comment = at < 0 ? -1 : before.lastIndexOf("\n# ");
        return of(comment < 0 ? before : before.substring(0, comment + 1), at < 0 ? List.of() : blocks(text));
    }

    private static List<PemText.Block> blocks(String text) {
        return PemText.read(text).blocks();
    }

    /** Puts a section together with the files that came beside it; throws where a part that it names is not among them. */
    public static IkeProfile of(String section, Map<String, byte[]> beside) {
        SectionFile file = SectionFile.read(section);
        List<PemText.Block> blocks = new java.util.ArrayList<>();
        for (String named : List.of("certs", "cacerts")) {
            for (SectionFile.Setting s : file.settings()) {
                if (s.key().equals(named)) {
                    byte[] part = beside.get(s.value());
                    if (part == null) {
                        throw new MalformedException("part", "line " + s.line(), s.value() + " did not come with it");
                    }
                    blocks.addAll(blocks(new String(part, StandardCharsets.ISO_8859_1)));
                }
            }
        }
        beside.values().stream()
                .map(b -> new String(b, StandardCharsets.ISO_8859_1))
                .filter(t -> t.contains(BEGIN))
                .flatMap(t -> blocks(t).stream())
                .filter(b -> PrivateKeyFile.isKey(b.label()))
                .forEach(blocks::add);
        return of(section, blocks);
    }

    /** The device's certificate is the one that is no authority's; the key is the one that belongs to it. */
    private static IkeProfile of(String section, List<PemText.Block> blocks) {
        Optional<PemText.Block> own = certificate(blocks, false);
        Optional<String> digest =
                own.map(b -> CertificateFacts.of(b.der()).key().digest());
        Optional<Secret> key = blocks.stream()
                .filter(b -> PrivateKeyFile.isKey(b.label()))
                .map(b -> PrivateKeyFile.of(b).key())
                .flatMap(Optional::stream)
                .filter(k -> digest.filter(k.digest()::equals).isPresent())
                .findFirst()
                .map(k -> Secret.of(PemText.write("PRIVATE KEY", k.privateKey().reveal(RevealSecret.TO_WRITE_FILE))));
        return new IkeProfile(
                section,
                own.map(b -> PemText.write("CERTIFICATE", b.der())),
                key,
                certificate(blocks, true).map(b -> PemText.write("CERTIFICATE", b.der())));
    }

    private static Optional<PemText.Block> certificate(List<PemText.Block> blocks, boolean authority) {
        return blocks.stream()
                .filter(b -> b.label().equals("CERTIFICATE"))
                .filter(b -> (CertificateFacts.of(b.der()).role() == CertificateFacts.Role.AUTHORITY) == authority)
                .findFirst();
    }

    /** The files of a Linux machine by their path under its swanctl folder. */
    public Map<String, Secret> files(String stem) {
        Map<String, Secret> out = new LinkedHashMap<>();
        SectionFile file = SectionFile.read(section);
        out.put("conf.d/" + stem + ".conf", Secret.of(section));
        certificate.ifPresent(c -> out.put("x509/" + named(file, "certs", stem + ".pem"), Secret.of(c)));
        key.ifPresent(k -> out.put("private/" + stem + ".pem", k));
        authority.ifPresent(a -> out.put("x509ca/" + named(file, "cacerts", stem + "-authority.pem"), Secret.of(a)));
        return out;
    }

    private static String named(SectionFile file, String key, String otherwise) {
        return file.settings().stream()
                .filter(s -> s.key().equals(key))
                .findFirst()
                .map(SectionFile.Setting::value)
                .orElse(otherwise);
    }

    /** What the section says under a key of its local or remote part, or of the connection itself. */
    public Optional<String> says(String part, String key) {
        return SectionFile.read(section).settings().stream()
                .filter(s -> s.key().equals(key))
                .filter(s -> part.isEmpty()
                        ? s.isIn("connections", "*")
                        : s.path().size() == 3 && s.path().get(2).startsWith(part))
                .findFirst()
                .map(SectionFile.Setting::value);
    }

    /** Networks that go through the tunnel. */
    public List<tender.core.network.Cidr> reach() {
        return SectionFile.read(section).settings().stream()
                .filter(s -> s.key().equals("remote_ts"))
                .flatMap(s -> java.util.Arrays.stream(s.value().split("\\s*,\\s*")))
                .filter(n -> !n.equals("dynamic"))
                .map(tender.core.network.Cidr::parse)
                .distinct()
                .toList();
    }
}
