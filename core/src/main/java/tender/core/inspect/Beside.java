package tender.core.inspect;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.certificate.RevocationList;
import tender.core.wire.MalformedException;

/** The files that came along with one: those that it names, and what others say of its certificates. */
public final class Beside {
    static final Beside NOTHING = new Beside(Map.of());

    private static final byte DER = 0x30;

    private final Map<String, byte[]> files = new HashMap<>();
    private final List<CertificateFacts> authorities = new ArrayList<>();
    private final Map<String, List<byte[]>> bySubject = new HashMap<>();
    private final Map<String, CertificateFacts> byKey = new HashMap<>();
    private final List<CertificateFacts> servers = new ArrayList<>();
    private final Map<String, List<RevocationList>> byIssuer = new HashMap<>();

    /** @param all by their names or paths */
    Beside(Map<String, byte[]> all) {
        this(all.values());
        all.forEach((path, content) -> files.putIfAbsent(last(path), content));
        files.putAll(all);
    }

    /** Certificates and lists alone, which say something of others wherever they lie; no file is found by a name. */
    public static Beside certificatesIn(Collection<byte[]> contents) {
        return new Beside(contents);
    }

    private Beside(Collection<byte[]> contents) {
        for (byte[] content : contents) {
            if (content.length > 0 && content[0] == DER) {
                add("CERTIFICATE", content);
                add("X509 CRL", content);
            } else {
                add(new String(content, StandardCharsets.ISO_8859_1));
            }
        }
    }

    private void add(String text) {
        if (text.contains("-----BEGIN ")) {
            PemText.read(text).blocks().forEach(b -> add(b.label(), b.der()));
        }
    }

    private void add(String label, byte[] der) {
        try {
            if (label.equals("X509 CRL")) {
                RevocationList list = RevocationList.of(der);
                byIssuer.computeIfAbsent(list.issuer(), i -> new ArrayList<>()).add(list);
            } else if (label.equals("CERTIFICATE")) {
                CertificateFacts c = CertificateFacts.of(der);
                if (c.role() == CertificateFacts.Role.AUTHORITY) {
                    authorities.add(c);
                    bySubject
                            .computeIfAbsent(c.subject(), i -> new ArrayList<>())
                            .add(der);
                    byKey.putIfAbsent(c.key().digest(), c);
                } else if (c.role() == CertificateFacts.Role.SERVER) {
                    servers.add(c);
                }
            }
        } catch (MalformedException e) {
            return; // it is told where that file itself is looked into
        }
    }

    private static String last(String path) {
        return path.substring(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1);
    }

    /** The file that another names, by its whole path or its last part. */
    Optional<byte[]> named(String name) {
        return Optional.ofNullable(files.get(name)).or(() -> Optional.ofNullable(files.get(last(name))));
    }

    List<CertificateFacts> authorities() {
        return authorities;
    }

    /** The authority whose key it is, by the digest of its public half. */
    Optional<CertificateFacts> authorityOfKey(String digest) {
        return Optional.ofNullable(byKey.get(digest));
    }

    /**
     * The certificate that a server shows, where one of its names is called or checked, or where its authority has no other.
     *
     * @param authority that clients of the server trust
     * @param names that clients call or check
     */
    public Optional<CertificateFacts> server(CertificateFacts authority, Collection<String> names) {
        List<CertificateFacts> issued =
                servers.stream().filter(c -> c.isIssuedBy(authority)).toList();
        return issued.stream()
                .filter(c ->
                        names.contains(c.commonName()) || c.names().stream().anyMatch(names::contains))
                .findFirst()
                .or(() -> issued.size() == 1 ? Optional.of(issued.get(0)) : Optional.empty());
    }

    /** Whether a list of the certificate's authority has it revoked; where the authority is here too, one that it signed. */
    public boolean revokes(CertificateFacts certificate) {
        List<byte[]> issuers = bySubject.getOrDefault(certificate.issuer(), List.of());
        return byIssuer.getOrDefault(certificate.issuer(), List.of()).stream()
                .filter(l -> l.revokes(certificate.serial()))
                .anyMatch(l -> issuers.isEmpty() || issuers.stream().anyMatch(l::isSignedBy));
    }
}
