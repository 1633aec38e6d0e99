package tender.service.importing;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.inspect.Bundle;
import tender.core.inspect.Inspection;
import tender.core.inspect.Inspector;
import tender.core.office.Protocol;
import tender.core.profile.IkeProfile;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.SingleFile;
import tender.core.repair.IkeRepairs;
import tender.core.repair.OpenVpnRepairs;
import tender.core.repair.Repaired;
import tender.core.repair.Target;
import tender.core.repair.WireGuardRepairs;
import tender.core.wire.Budget;
import tender.core.wire.MalformedException;

/** A client file out of what was sent, in one piece; {@code lacking} says why it is not whole. */
record Candidate(String path, Protocol protocol, String text, Inspection inspection, Optional<String> lacking) {
    private static final Map<Inspection.Kind, Protocol> KINDS = Map.of(
            Inspection.Kind.OPENVPN_CLIENT, Protocol.OPENVPN,
            Inspection.Kind.WIREGUARD_CLIENT, Protocol.WIREGUARD,
            Inspection.Kind.IKEV2, Protocol.IKEV2);

    /** The last folder of its path; empty where it lies in none. */
    String folder() {
        int slash = path.lastIndexOf('/');
        return slash < 0 ? "" : path.substring(path.lastIndexOf('/', slash - 1) + 1, slash);
    }

    /**
     * The client files in a file or archive.
     *
     * @param passphrase opens locked key stores
     * @throws MalformedException where an archive cannot be read, or is larger than is read
     */
    static List<Candidate> read(String name, byte[] content, Optional<Secret> passphrase, Instant now) {
        Budget budget = new Budget();
        Map<String, byte[]> files = new LinkedHashMap<>();
        if (Bundle.looksLike(content)) {
            files.putAll(Bundle.read(content, budget));
        } else {
            files.put(name, content);
        }
        List<Candidate> out = new ArrayList<>();
        Map<String, Map<String, byte[]>> folders = new LinkedHashMap<>();
        files.forEach((path, bytes) -> folders.computeIfAbsent(folderOf(path), f -> new LinkedHashMap<>())
                .put(path.substring(path.lastIndexOf('/') + 1), bytes));
        Map<String, Map<String, byte[]>> besides = new HashMap<>();
        folders.forEach((folder, own) -> {
            Map<String, byte[]> all = new LinkedHashMap<>(folders.getOrDefault("", Map.of()));
            all.putAll(own);
            besides.put(folder, all);
        });
        files.forEach((path, bytes) -> {
            Inspection first = Inspector.of(path, bytes, now, Optional.empty(), budget);
            Protocol protocol = KINDS.get(first.kind());
            if (protocol != null) {
                String text = new String(bytes, StandardCharsets.ISO_8859_1);
                out.add(candidate(path, protocol, text, besides.get(folderOf(path)), first, passphrase, now, budget));
            }
        });
        return out;
    }

    private static String folderOf(String path) {
        return path.substring(0, Math.max(0, path.lastIndexOf('/')));
    }

    private static Candidate candidate(
            String path,
            Protocol protocol,
            String text,
            Map<String, byte[]> beside,
            Inspection alone,
            Optional<Secret> passphrase,
            Instant now,
            Budget budget) {
        try {
            String whole = switch (protocol) {
                case OPENVPN ->
                    SingleFile.inlined(OpenVpnFile.read(text).file(), beside).text();
                case IKEV2 -> IkeProfile.of(text, beside).text();
                default -> text;
            };
            boolean again = protocol == Protocol.OPENVPN && (!whole.equals(text) || passphrase.isPresent());
            Inspection of = again
                    ? Inspector.of(
                            path,
                            whole.getBytes(StandardCharsets.ISO_8859_1),
                            now,
                            passphrase.map(p -> p.revealText(RevealSecret.TO_COMPARE)),
                            budget)
                    : alone;
            return new Candidate(path, protocol, whole, of, Optional.empty());
        } catch (MalformedException e) {
            return new Candidate(path, protocol, text, alone, Optional.of(e.getMessage()));
        }
    }

    /** Repaired for a listener; a file that is not whole stays as it is. */
    Repaired repaired(Target target) {
        if (lacking.isPresent()) {
            return new Repaired(text, List.of());
        }
        return switch (protocol) {
            case OPENVPN -> OpenVpnRepairs.of(text, target);
            case IKEV2 -> {
                IkeProfile whole = IkeProfile.read(text);
                Repaired section = IkeRepairs.of(whole.section(), target);
                yield new Repaired(
                        new IkeProfile(section.text(), whole.certificate(), whole.key(), whole.authority()).text(),
                        section.repairs());
            }
            default -> WireGuardRepairs.of(text, target);
        };
    }

    /** Whether nothing shows whose it is, because its key store is locked. */
    boolean isLocked() {
        return protocol == Protocol.OPENVPN && inspection.asksPassphrase() && own().isEmpty();
    }

    /** Lines that a file may keep only where somebody says why. */
    List<Inspection.Note> dangerous() {
        return inspection.notes().stream().filter(n -> n.hint().isHeldBack()).toList();
    }

    /** The certificate that the file's device shows. */
    Optional<CertificateFacts> own() {
        return inspection.certificates().stream()
                .filter(f -> f.role() != CertificateFacts.Role.AUTHORITY)
                .findFirst();
    }

    /** All certificates in it; the own one's name tells whose it is. */
    List<CertificateFacts> certificates() {
        return protocol == Protocol.IKEV2 && lacking.isEmpty()
                ? IkeProfile.read(text)
                        .certificate()
                        .map(t -> List.of(CertificateFacts.of(
                                PemText.read(t).blocks().get(0).der())))
                        .orElse(List.of())
                : inspection.certificates();
    }
}
