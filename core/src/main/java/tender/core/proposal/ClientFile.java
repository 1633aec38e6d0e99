package tender.core.proposal;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.inspect.Beside;
import tender.core.inspect.Bundle;
import tender.core.inspect.Hint;
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

/**
 * A client file out of what somebody gave, in one piece.
 *
 * @param needsPassphrase whether its key or key store is locked, also where it was opened to look
 * @param lacking why it is not whole
 */
public record ClientFile(
        String path,
        Protocol protocol,
        String text,
        Inspection inspection,
        boolean needsPassphrase,
        Optional<String> lacking) {
    private static final int DEEPEST = 3;
    private static final Map<Inspection.Kind, Protocol> KINDS = Map.of(
            Inspection.Kind.OPENVPN_CLIENT, Protocol.OPENVPN,
            Inspection.Kind.WIREGUARD_CLIENT, Protocol.WIREGUARD,
            Inspection.Kind.IKEV2, Protocol.IKEV2);

    /**
     * What was given, looked through.
     *
     * @param others files that are no client files and lie beside none
     * @param beside certificates and revocation lists in all of them
     */
    public record Found(List<ClientFile> clients, List<Inspection> others, Beside beside) {}

    /** The last folder of its path; empty where it lies in none. */
    public String folder() {
        String folder = folderOf(path);
        return folder.substring(folder.lastIndexOf('/') + 1);
    }

    /** The last part of its path, without what follows the last dot. */
    public String stem() {
        String file = path.substring(path.lastIndexOf('/') + 1);
        int dot = file.lastIndexOf('.');
        return dot > 0 ? file.substring(0, dot) : file;
    }

    /**
     * The client files in files and archives, and in archives within these. Of a single archive the paths are those inside; of several
     * files the archive's own name stands before them.
     *
     * @param given contents by name or path
     * @param passphrase opens locked key stores
     * @throws MalformedException where an archive cannot be read, or all together is larger than is read
     */
    public static Found read(Map<String, byte[]> given, Optional<Secret> passphrase, Instant now) {
        Budget budget = new Budget();
        Map<String, byte[]> files = new LinkedHashMap<>();
        given.forEach((name, content) -> {
            if (Bundle.looksLike(content)) {
                String before = given.size() == 1 ? "" : name + "/";
                unpack(before, unpacked(name, content, budget), 1, budget, files);
            } else {
                files.put(name, content);
            }
        });
        Map<String, Map<String, byte[]>> besides = besides(files);
        Beside beside = Beside.certificatesIn(files.values());
        List<ClientFile> clients = new ArrayList<>();
        Map<String, Inspection> others = new LinkedHashMap<>();
        files.forEach((path, bytes) -> {
            Inspection first = Inspector.of(path, bytes, now, Optional.empty(), budget, beside);
            Protocol protocol = KINDS.get(first.kind());
            if (protocol == null) {
                others.put(path, first);
                return;
            }
            String text = new String(bytes, StandardCharsets.ISO_8859_1);
            clients.add(whole(
                    new ClientFile(path, protocol, text, first, false, Optional.empty()),
                    besides.get(folderOf(path)),
                    new Looking(passphrase, now, budget, beside)));
        });
        Set<String> folders = clients.stream().map(c -> folderOf(c.path())).collect(Collectors.toSet());
        others.keySet()
                .removeIf(path ->
                        folders.contains(folderOf(path)) && !folderOf(path).isEmpty());
        return new Found(clients, List.copyOf(others.values()), beside);
    }

    /** Archives in archives are opened too, as deep as devices pack them; one that cannot be read stays a file. */
    private static void unpack(
            String before, Map<String, byte[]> inside, int depth, Budget budget, Map<String, byte[]> out) {
        inside.forEach((path, bytes) -> {
            if (depth < DEEPEST && Bundle.looksLike(bytes)) {
                try {
                    unpack(before + path + "/", Bundle.read(bytes, budget), depth + 1, budget, out);
                    return;
                } catch (MalformedException e) {
                    // it is named among the files that are no client files
                }
            }
            out.put(before + path, bytes);
        });
    }

    private static Map<String, byte[]> unpacked(String name, byte[] content, Budget budget) {
        try {
            return Bundle.read(content, budget);
        } catch (MalformedException e) {
            throw e.at(name);
        }
    }

    /** The files of each folder, those at the top, and those whose name no other file has, by their names. */
    private static Map<String, Map<String, byte[]>> besides(Map<String, byte[]> files) {
        Map<String, Map<String, byte[]>> folders = new LinkedHashMap<>();
        files.forEach((path, bytes) -> folders.computeIfAbsent(folderOf(path), f -> new LinkedHashMap<>())
                .put(path.substring(path.lastIndexOf('/') + 1), bytes));
        Map<String, byte[]> unique = new LinkedHashMap<>();
        Set<String> several = new HashSet<>();
        folders.values()
                .forEach(own -> own.forEach((name, bytes) -> {
                    if (unique.putIfAbsent(name, bytes) != null) {
                        several.add(name);
                    }
                }));
        unique.keySet().removeAll(several);
        Map<String, Map<String, byte[]>> besides = new HashMap<>();
        folders.forEach((folder, own) -> {
            Map<String, byte[]> all = new LinkedHashMap<>(unique);
            all.putAll(folders.getOrDefault("", Map.of()));
            all.putAll(own);
            besides.put(folder, all);
        });
        return besides;
    }

    private static String folderOf(String path) {
        return path.substring(0, Math.max(0, path.lastIndexOf('/')));
    }

    /** What every file is looked into with. */
    private record Looking(Optional<Secret> passphrase, Instant now, Budget budget, Beside beside) {
        Inspection at(String path, String text, Optional<Secret> with) {
            return Inspector.of(
                    path,
                    text.getBytes(StandardCharsets.ISO_8859_1),
                    now,
                    with.map(p -> p.revealText(RevealSecret.TO_COMPARE)),
                    budget,
                    beside);
        }
    }

    /** With what lies beside it put in; as it is, and why, where that cannot be done. */
    private static ClientFile whole(ClientFile alone, Map<String, byte[]> beside, Looking looking) {
        try {
            String whole = switch (alone.protocol) {
                case OPENVPN ->
                    SingleFile.inlined(OpenVpnFile.read(alone.text).file(), beside)
                            .text();
                case IKEV2 -> IkeProfile.of(alone.text, beside).text();
                default -> alone.text;
            };
            boolean again =
                    alone.protocol == Protocol.OPENVPN && (!whole.equals(alone.text) || looking.passphrase.isPresent());
            Inspection closed = again ? looking.at(alone.path, whole, Optional.empty()) : alone.inspection;
            Inspection of = again && looking.passphrase.isPresent()
                    ? looking.at(alone.path, whole, looking.passphrase)
                    : closed;
            boolean locked =
                    closed.asksPassphrase() || closed.notes().stream().anyMatch(n -> n.hint() == Hint.KEY_LOCKED);
            return new ClientFile(alone.path, alone.protocol, whole, of, locked, Optional.empty());
        } catch (MalformedException e) {
            return new ClientFile(
                    alone.path, alone.protocol, alone.text, alone.inspection, false, Optional.of(e.getMessage()));
        }
    }

    /** Repaired for a listener; a file that is not whole stays as it is. */
    public Repaired repaired(Target target) {
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
    public boolean isLocked() {
        return protocol == Protocol.OPENVPN && inspection.asksPassphrase() && own().isEmpty();
    }

    /** Whether a revocation list that was given with it names its certificate. */
    public boolean isRevoked() {
        return inspection.notes().stream().anyMatch(n -> n.hint() == Hint.CERTIFICATE_REVOKED);
    }

    /** Lines that a file may keep only where somebody says why. */
    public List<Inspection.Note> dangerous() {
        return inspection.notes().stream().filter(n -> n.hint().isHeldBack()).toList();
    }

    /** The certificate that the file's device shows. */
    public Optional<CertificateFacts> own() {
        return inspection.certificates().stream()
                .filter(f -> f.role() != CertificateFacts.Role.AUTHORITY)
                .findFirst();
    }

    /** All certificates in it; the own one's name tells whose it is. */
    public List<CertificateFacts> certificates() {
        return protocol == Protocol.IKEV2 && lacking.isEmpty()
                ? IkeProfile.read(text)
                        .certificate()
                        .map(t -> List.of(CertificateFacts.of(
                                PemText.read(t).blocks().get(0).der())))
                        .orElse(List.of())
                : inspection.certificates();
    }
}
