package tender.core.profile;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.wire.MalformedException;

/**
 * All that a device needs for an IKEv2 connection, kept as one text: the swanctl section, and after it the parts that the
 * section names as PEM blocks (RFC 7468, which lets text stand before a block).
 *
 * @param certificate of the device in PEM; empty where it authenticates with a password
 * @param authority all that the connection believes, in PEM
 */
public record IkeProfile(
        String section, Optional<String> certificate, Optional<Secret> key, Optional<String> authority) {
    private static final byte DER = 0x30;
    private static final String BEGIN = "-----BEGIN ";
    private static final Pattern CONNECTIONS = Pattern.compile("(?m)^[ \\t]*connections\\s*(?::[^{}=\"]*)?\\{");

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
        return of(section(text), blocks(text));
    }

    /** Whether a text has a section for IKE connections. */
    public static boolean looksLike(String text) {
        return CONNECTIONS.matcher(text).find();
    }

    /** The text without the parts that stand behind it, and without the comment over the first of them. */
    public static String section(String text) {
        int at = text.indexOf(BEGIN);
        if (at < 0) {
            return text;
        }
        String before = text.substring(0, at);
        int comment = before.lastIndexOf('\n', before.length() - 2) + 1;
        return before.endsWith("\n") && before.startsWith("# ", comment) ? before.substring(0, comment) : before;
    }

    private static List<PemText.Block> blocks(String text) {
        return PemText.read(text).blocks();
    }

    /** What a part that came beside it holds: PEM, or one certificate in DER. */
    private static List<PemText.Block> blocks(byte[] part) {
        if (part.length > 0 && part[0] == DER) {
            CertificateFacts.of(part);
            return List.of(new PemText.Block("CERTIFICATE", Map.of(), part, 0, 0));
        }
        return blocks(new String(part, StandardCharsets.ISO_8859_1));
    }

    /** The objects of a part that nobody names which can be read; strongSwan passes over the others too. */
    private static List<PemText.Block> readable(byte[] part) {
        try {
            return blocks(part).stream().filter(IkeProfile::isReadable).toList();
        } catch (MalformedException e) {
            return List.of();
        }
    }

    private static boolean isReadable(PemText.Block block) {
        try {
            if (PrivateKeyFile.isKey(block.label())) {
                PrivateKeyFile.of(block);
            } else if (block.label().equals("CERTIFICATE")) {
                CertificateFacts.of(block.der());
            }
            return true;
        } catch (MalformedException e) {
            return false;
        }
    }

    /**
     * Puts a section together with the files that came beside it; throws where a part that it names is not among them. As
     * strongSwan does, it believes the authorities that the section names, and where it names none all in {@code x509ca/}.
     *
     * @param beside by their names, or in strongSwan's own folders by folder and name
     */
    public static IkeProfile of(String section, Map<String, byte[]> beside) {
        SectionFile file = SectionFile.read(section);
        List<PemText.Block> own = named(file, "local", "certs", "x509", beside);
        List<PemText.Block> authorities = new ArrayList<>(named(file, "remote", "cacerts", "x509ca", beside));
        if (authorities.isEmpty()) {
            beside.forEach((name, part) -> {
                if (name.startsWith("x509ca/")) {
                    authorities.addAll(readable(part));
                }
            });
        }
        List<PemText.Block> keys = beside.values().stream()
                .filter(part -> part.length == 0 || part[0] != DER)
                .flatMap(part -> readable(part).stream())
                .filter(b -> PrivateKeyFile.isKey(b.label()))
                .toList();
        return of(
                section, Stream.of(own, authorities, keys).flatMap(List::stream).toList());
    }

    private static List<PemText.Block> named(
            SectionFile file, String side, String key, String folder, Map<String, byte[]> beside) {
        List<PemText.Block> out = new ArrayList<>();
        for (SectionFile.Setting s : file.settings()) {
            if (!s.key().equals(key) || s.path().size() != 3 || !s.path().get(2).startsWith(side)) {
                continue;
            }
            for (String name : s.items()) {
                String last = name.substring(name.lastIndexOf('/') + 1);
                byte[] part = Stream.of(folder + "/" + last, name, last)
                        .map(beside::get)
                        .filter(Objects::nonNull)
                        .findFirst()
                        .orElseThrow(() ->
                                new MalformedException("part", "line " + s.line(), name + " did not come with it"));
                out.addAll(blocks(part));
            }
        }
        return out;
    }

    /** The device's certificate is the one that is no authority's; the key is the one that belongs to it. */
    private static IkeProfile of(String section, List<PemText.Block> blocks) {
        Optional<PemText.Block> own =
                certificates(blocks).filter(b -> !isAuthority(b)).findFirst();
        Optional<String> digest =
                own.map(b -> CertificateFacts.of(b.der()).key().digest());
        Optional<Secret> key = blocks.stream()
                .filter(b -> PrivateKeyFile.isKey(b.label()))
                .map(b -> PrivateKeyFile.of(b).key())
                .flatMap(Optional::stream)
                .filter(k -> digest.filter(k.digest()::equals).isPresent())
                .findFirst()
                .map(k -> Secret.of(PemText.write("PRIVATE KEY", k.privateKey().reveal(RevealSecret.TO_WRITE_FILE))));
        String authorities = certificates(blocks)
                .filter(IkeProfile::isAuthority)
                .map(b -> PemText.write("CERTIFICATE", b.der()))
                .distinct()
                .collect(Collectors.joining());
        return new IkeProfile(
                section,
                own.map(b -> PemText.write("CERTIFICATE", b.der())),
                key,
                Optional.of(authorities).filter(t -> !t.isEmpty()));
    }

    private static Stream<PemText.Block> certificates(List<PemText.Block> blocks) {
        return blocks.stream().filter(b -> b.label().equals("CERTIFICATE"));
    }

    private static boolean isAuthority(PemText.Block block) {
        return CertificateFacts.of(block.der()).role() == CertificateFacts.Role.AUTHORITY;
    }

    /** The files of a Linux machine by their path under its swanctl folder; strongSwan reads one certificate of a file. */
    public Map<String, Secret> files(String stem) {
        Map<String, Secret> out = new LinkedHashMap<>();
        SectionFile file = SectionFile.read(section);
        out.put("conf.d/" + stem + ".conf", Secret.of(section));
        certificate.ifPresent(c -> out.put("x509/" + first(file, "certs", stem + ".pem"), Secret.of(c)));
        key.ifPresent(k -> out.put("private/" + stem + ".pem", k));
        List<String> all = authority
                .map(a -> blocks(a).stream()
                        .map(b -> PemText.write("CERTIFICATE", b.der()))
                        .toList())
                .orElse(List.of());
        for (int i = 0; i < all.size(); i++) {
            String name =
                    i == 0 ? first(file, "cacerts", stem + "-authority.pem") : stem + "-authority-" + (i + 1) + ".pem";
            out.put("x509ca/" + name, Secret.of(all.get(i)));
        }
        return out;
    }

    private static String first(SectionFile file, String key, String otherwise) {
        return file.settings().stream()
                .filter(s -> s.key().equals(key))
                .flatMap(s -> s.items().stream())
                .findFirst()
                .map(name -> name.substring(name.lastIndexOf('/') + 1))
                .orElse(otherwise);
    }

    /** The connection that is tried, and its first child, by the names of their sections. */
    private record Tried(List<SectionFile.Setting> settings, List<String> child) {}

    /** The first connection that calls somebody, else the first. */
    private Tried tried() {
        SectionFile file = SectionFile.read(section);
        List<List<String>> all = file.sections().stream()
                .filter(p -> p.size() == 2 && p.get(0).equals("connections"))
                .toList();
        List<String> chosen = all.stream()
                .filter(p -> file.first("remote_addrs", "connections", p.get(1)).isPresent())
                .findFirst()
                .or(() -> all.stream().findFirst())
                .orElse(List.of("connections", ""));
        List<String> child = file.sections().stream()
                .filter(p -> p.size() == 4
                        && p.subList(0, 2).equals(chosen)
                        && p.get(2).equals("children"))
                .findFirst()
                .orElse(List.of());
        return new Tried(
                file.settings().stream()
                        .filter(s ->
                                s.path().size() > 1 && s.path().subList(0, 2).equals(chosen))
                        .toList(),
                child);
    }

    /** The settings of the connection that is tried. */
    public List<SectionFile.Setting> connection() {
        return tried().settings();
    }

    /** What the section says under a key of its local or remote part, or of the connection itself. */
    public Optional<String> says(String part, String key) {
        return connection().stream()
                .filter(s -> s.key().equals(key))
                .filter(s -> part.isEmpty()
                        ? s.path().size() == 2
                        : s.path().size() == 3 && s.path().get(2).startsWith(part))
                .findFirst()
                .map(SectionFile.Setting::value);
    }

    /** The same as a list. */
    public List<String> list(String part, String key) {
        return says(part, key).map(SectionFile::items).orElse(List.of());
    }

    /** What the first child of the connection says under a key. */
    public Optional<String> child(String key) {
        Tried tried = tried();
        return tried.settings().stream()
                .filter(s -> s.key().equals(key) && s.path().equals(tried.child()))
                .findFirst()
                .map(SectionFile.Setting::value);
    }

    /** Networks that go through the tunnel; of a range of addresses the networks that hold it. */
    public List<Cidr> reach() {
        return child("remote_ts").map(SectionFile::items).orElse(List.of()).stream()
                .map(n -> n.replaceFirst("\\[.*", ""))
                .filter(n -> !n.equals("dynamic"))
                .flatMap(n -> SwanctlSelector.networks(n).stream())
                .distinct()
                .toList();
    }
}
