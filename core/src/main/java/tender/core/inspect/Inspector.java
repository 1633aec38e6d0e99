package tender.core.inspect;

import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.KeyFacts;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.certificate.RequestFacts;
import tender.core.certificate.RevocationFacts;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.SecretsInside;
import tender.core.profile.SectionFile;
import tender.core.profile.WireGuardFile;
import tender.core.wire.Budget;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;

/**
 * Looks into one file or archive. Nothing is kept, run or written; whatever comes in, an inspection comes out.
 */
public final class Inspector {
    /** What is looked into at most, in bytes. */
    public static final int MAX_BYTES = 32 * 1024 * 1024;

    private static final Duration LIST_SOON = Duration.ofDays(7);
    private static final int MAX_DEPTH = 2;
    private static final int FEW_NULS = 3;
    private static final byte DER = 0x30;
    private static final Pattern L2TP = Pattern.compile("(?im)^\\s*\\[lac [^]]*]|^\\s*lns\\s*=");
    private static final Pattern PPTP = Pattern.compile("(?im)^\\s*(pty\\s+\"?pptp |plugin\\s+\"?pptp|pptp_server\\s)");

    private static final Map<Bundle.Fault, Hint> FAULTS = Map.of(
            Bundle.Fault.ESCAPES, Hint.ARCHIVE_ESCAPES,
            Bundle.Fault.SWELLS, Hint.ARCHIVE_SWELLS,
            Bundle.Fault.LOCKED, Hint.ARCHIVE_LOCKED,
            Bundle.Fault.DAMAGED, Hint.ARCHIVE_DAMAGED);

    private final Instant now;
    private final Unlocking unlocking;

    private Inspector(Instant now, Unlocking unlocking) {
        this.now = now;
        this.unlocking = unlocking;
    }

    /**
     * @param name the file's name, shown and used where the content does not tell
     * @param passphrase for keys and key stores that are locked
     */
    public static Inspection of(String name, byte[] content, Instant now, Optional<String> passphrase) {
        return of(name, content, now, passphrase, new Budget());
    }

    /** @param budget what this and the other files of the same request may cost */
    public static Inspection of(String name, byte[] content, Instant now, Optional<String> passphrase, Budget budget) {
        return of(name, content, now, passphrase, budget, Beside.NOTHING);
    }

    /** @param beside what else was given and says something of the file */
    public static Inspection of(
            String name, byte[] content, Instant now, Optional<String> passphrase, Budget budget, Beside beside) {
        return new Inspector(now, new Unlocking(passphrase, budget)).file(name, content, beside, 0);
    }

    /**
     * Looks into files that came together, in their order: each may name others of them, and what one cannot be read for does not
     * cost what is said of the rest.
     *
     * @param files by their names or paths
     * @param companions others that may be named, which are not looked into by themselves
     */
    public static List<Inspection> all(
            Map<String, byte[]> files, Map<String, byte[]> companions, Instant now, Optional<String> passphrase) {
        Inspector inspector = new Inspector(now, new Unlocking(passphrase, new Budget()));
        Map<String, byte[]> together = new LinkedHashMap<>(companions);
        together.putAll(files);
        Beside beside = new Beside(together);
        return files.entrySet().stream()
                .map(f -> inspector.file(f.getKey(), f.getValue(), beside, 0))
                .toList();
    }

    private Inspection file(String name, byte[] content, Beside beside, int depth) {
        try {
            if (content.length > MAX_BYTES) {
                throw new MalformedException("too-large", "", "larger than 32 MiB");
            }
            if (Bundle.looksLike(content)) {
                return archive(name, content, depth);
            }
            Optional<String> text = text(content);
            return text.isPresent()
                    ? textFile(name, text.get(), beside).without(SecretsInside.of(text.get()))
                    : binary(name, content, beside);
        } catch (MalformedException e) {
            return new Inspection.Draft()
                    .unread(new ParseProblem(0, e.code(), e.getMessage()))
                    .done(name, Inspection.Kind.UNKNOWN);
        }
    }

    private Inspection archive(String name, byte[] content, int depth) {
        Inspection.Draft draft = new Inspection.Draft();
        if (depth == MAX_DEPTH) {
            throw new MalformedException("archive", "", "archives in archives in archives are not opened");
        }
        Bundle.Contents contents = Bundle.look(content, unlocking.budget());
        Map<String, byte[]> files = contents.files();
        Beside beside = new Beside(files);
        draft.fact("contains", files.size() + (files.size() == 1 ? " file" : " files"));
        contents.refused()
                .forEach(r ->
                        draft.note(FAULTS.get(r.fault()), 0, (r.entry().isEmpty() ? "" : r.entry() + ": ") + r.what()));
        files.forEach((path, bytes) -> draft.part(file(path, bytes, beside, depth + 1)));
        return draft.done(name, Inspection.Kind.ARCHIVE);
    }

    private static Optional<String> text(byte[] content) {
        int nuls = 0;
        for (byte b : content) {
            nuls += b == 0 ? 1 : 0;
        }
        if (nuls > FEW_NULS || nuls > 0 && content[0] == DER) {
            return Optional.empty();
        }
        try {
            String text = StandardCharsets.UTF_8
                    .newDecoder()
                    .onMalformedInput(CodingErrorAction.REPORT)
                    .decode(java.nio.ByteBuffer.wrap(content))
                    .toString();
            return Optional.of(text.startsWith("\ufeff") ? text.substring(1) : text);
        } catch (CharacterCodingException e) {
            long odd = 0;
            for (byte b : content) {
                odd += b >= 0 && b < 32 && b != '\n' && b != '\r' && b != '\t' ? 1 : 0;
            }
            return odd == 0 && content.length > 0 && content[0] != DER
                    ? Optional.of(new String(content, StandardCharsets.ISO_8859_1))
                    : Optional.empty();
        }
    }

    private Inspection textFile(String name, String text, Beside beside) {
        if (WireGuardFile.looksLike(text)) {
            return WireGuardNotes.of(name, WireGuardFile.read(text));
        }
        OpenVpnFile.Reading openVpn = OpenVpnFile.read(text);
        if (OpenVpnClient.looksLike(openVpn.file())) {
            return OpenVpnNotes.of(name, OpenVpnClient.of(openVpn), now, beside, unlocking);
        }
        if (text.contains("OpenVPN Static key V1") || text.contains("OpenVPN tls-crypt-v2")) {
            return new Inspection.Draft()
                    .fact(
                            "is",
                            text.contains("tls-crypt-v2 server")
                                    ? "a gateway's key for making clients' keys"
                                    : "the control-channel key")
                    .note(Hint.KEY_OPEN, 0, "")
                    .done(name, Inspection.Kind.STATIC_KEY);
        }
        if (text.contains("-----BEGIN ")) {
            return pem(name, text, beside);
        }
        SectionFile sections = SectionFile.read(text);
        if (IkeNotes.looksLike(sections)) {
            return IkeNotes.of(name, sections, beside);
        }
        if (PPTP.matcher(text).find()) {
            return new Inspection.Draft().note(Hint.PROTOCOL_BROKEN, 0, "PPTP").done(name, Inspection.Kind.PPTP);
        }
        if (L2TP.matcher(text).find()) {
            return new Inspection.Draft()
                    .note(Hint.PROTOCOL_WEAK, 0, "L2TP/IPsec")
                    .done(name, Inspection.Kind.L2TP);
        }
        boolean readme = name.toLowerCase(Locale.ROOT).matches(".*\\.(txt|md|html?|rtf)");
        Inspection.Draft draft = new Inspection.Draft();
        return readme
                ? draft.fact("lines", Long.toString(text.lines().count())).done(name, Inspection.Kind.TEXT)
                : draft.note(Hint.NOT_KNOWN, 0, "").done(name, Inspection.Kind.UNKNOWN);
    }

    private Inspection pem(String name, String text, Beside beside) {
        Inspection.Draft draft = new Inspection.Draft();
        CertificateNotes notes = new CertificateNotes(now, draft, beside);
        List<CertificateFacts> certificates = notes.certificates(text, 0);
        Optional<Inspection.Kind> kind =
                certificates.isEmpty() ? Optional.empty() : Optional.of(Inspection.Kind.CERTIFICATES);
        certificates.forEach(c -> certificate(c, draft));
        for (PemText.Block block : PemText.read(text).blocks()) {
            try {
                Optional<Inspection.Kind> other = object(block, certificates, draft, notes);
                kind = kind.or(() -> other);
            } catch (MalformedException e) {
                draft.unread(new ParseProblem(block.line(), e.code(), e.what()));
            }
        }
        if (kind.isEmpty() && !draft.hasNotes()) {
            draft.note(Hint.NOT_KNOWN, 0, "");
        }
        return draft.done(name, kind.orElse(Inspection.Kind.UNKNOWN));
    }

    private Optional<Inspection.Kind> object(
            PemText.Block block, List<CertificateFacts> certificates, Inspection.Draft draft, CertificateNotes notes) {
        if (PrivateKeyFile.isKey(block.label())) {
            Optional<CertificateKey> key = notes.key(PrivateKeyFile.of(block), block.line(), unlocking);
            key.ifPresent(k -> draft.fact("key", k.kind().word()));
            key.ifPresent(k -> notes.pair(certificates, k, block.line()));
            return Optional.of(Inspection.Kind.PRIVATE_KEY);
        }
        return switch (block.label()) {
            case "X509 CRL" -> {
                list(RevocationFacts.of(block.der()), block.line(), draft);
                yield Optional.of(Inspection.Kind.REVOCATION_LIST);
            }
            case "CERTIFICATE REQUEST", "NEW CERTIFICATE REQUEST" -> {
                request(RequestFacts.of(block.der()), block.line(), draft);
                yield Optional.of(Inspection.Kind.REQUEST);
            }
            case "PUBLIC KEY" -> Optional.of(publicKey(block.der(), draft));
            default -> Optional.empty();
        };
    }

    private static Inspection.Kind publicKey(byte[] der, Inspection.Draft draft) {
        draft.fact("key", KeyFacts.of(der).words());
        return Inspection.Kind.PUBLIC_KEY;
    }

    private void certificate(CertificateFacts c, Inspection.Draft draft) {
        draft.fact(
                c.role() == CertificateFacts.Role.AUTHORITY ? "authority" : "certificate",
                CertificateNotes.whose(c) + ", " + CertificateNotes.life(c, now) + ", "
                        + c.key().words());
        draft.fact("names", String.join(", ", c.names()));
        draft.fact("signed by", c.isSelfSigned() ? "itself" : c.issuer());
    }

    private void list(RevocationFacts list, int line, Inspection.Draft draft) {
        draft.fact("signed by", list.issuer());
        draft.fact("revokes", list.count() + (list.count() == 1 ? " certificate" : " certificates"));
        list.next().ifPresent(next -> draft.fact("valid until", next.toString()));
        if (list.next().filter(n -> n.isBefore(now)).isPresent()) {
            draft.note(Hint.LIST_EXPIRED, line, "ended " + list.next().get());
        } else if (list.next().filter(n -> n.isBefore(now.plus(LIST_SOON))).isPresent()) {
            draft.note(Hint.LIST_EXPIRES_SOON, line, "ends " + list.next().get());
        }
        if (!list.namesKey()) {
            draft.note(Hint.LIST_NAMES_NO_KEY, line, "");
        }
    }

    private static void request(RequestFacts request, int line, Inspection.Draft draft) {
        draft.fact("asks for", request.subject());
        draft.fact("names", String.join(", ", request.names()));
        draft.fact("key", request.key().words());
        if (!request.signed()) {
            draft.note(Hint.REQUEST_UNSIGNED, line, "");
        }
    }

    /** Bytes that are no text: DER, tried from the most to the least telling. */
    private Inspection binary(String name, byte[] bytes, Beside beside) {
        if (bytes.length == 0 || bytes[0] != DER) {
            return new Inspection.Draft().note(Hint.NOT_KNOWN, 0, "").done(name, Inspection.Kind.UNKNOWN);
        }
        byte[] content = PemText.whole(bytes);
        List<Attempt> attempts = new ArrayList<>(List.of(
                () -> certificateFile(name, content, beside),
                () -> keyStore(name, content, beside),
                () -> {
                    Inspection.Draft draft = new Inspection.Draft();
                    list(RevocationFacts.of(content), 0, draft);
                    return draft.done(name, Inspection.Kind.REVOCATION_LIST);
                },
                () -> {
                    Inspection.Draft draft = new Inspection.Draft();
                    request(RequestFacts.of(content), 0, draft);
                    return draft.done(name, Inspection.Kind.REQUEST);
                },
                () -> keyFile(name, "PRIVATE KEY", content, beside),
                () -> keyFile(name, "ENCRYPTED PRIVATE KEY", content, beside),
                () -> keyFile(name, "EC PRIVATE KEY", content, beside),
                () -> keyFile(name, "RSA PRIVATE KEY", content, beside),
                () -> {
                    Inspection.Draft draft = new Inspection.Draft();
                    return draft.done(name, publicKey(content, draft));
                }));
        for (Attempt attempt : attempts) {
            try {
                return attempt.look();
            } catch (MalformedException e) {
                if (e.code().equals("too-large")) {
                    throw e;
                }
                continue; // another kind
            }
        }
        return new Inspection.Draft()
                .unread(new ParseProblem(
                        0, "der", "it begins as DER does, and is damaged or of a kind that is not known"))
                .done(name, Inspection.Kind.UNKNOWN);
    }

    /** One kind that bytes may be of; throws {@link MalformedException} where they are not. */
    private interface Attempt {
        Inspection look();
    }

    private Inspection certificateFile(String name, byte[] content, Beside beside) {
        Inspection.Draft draft = new Inspection.Draft();
        CertificateFacts c = CertificateFacts.of(content);
        new CertificateNotes(now, draft, beside).certificate(c, 0);
        certificate(c, draft);
        return draft.done(name, Inspection.Kind.CERTIFICATES);
    }

    private Inspection keyFile(String name, String label, byte[] content, Beside beside) {
        Inspection.Draft draft = new Inspection.Draft();
        PrivateKeyFile file = PrivateKeyFile.of(new PemText.Block(label, Map.of(), content, 0, 0));
        CertificateNotes notes = new CertificateNotes(now, draft, beside);
        notes.key(file, 0, unlocking).ifPresent(k -> draft.fact("key", k.kind().word()));
        return draft.done(name, Inspection.Kind.PRIVATE_KEY);
    }

    private Inspection keyStore(String name, byte[] content, Beside beside) {
        Inspection.Draft draft = new Inspection.Draft();
        CertificateNotes notes = new CertificateNotes(now, draft, beside);
        Optional<KeyStoreFile.Opened> opened = KeyStoreNotes.of(KeyStoreFile.of(content), 0, draft, unlocking);
        opened.ifPresent(o -> {
            List<CertificateFacts> all =
                    o.certificates().stream().map(CertificateFacts::of).toList();
            all.forEach(c -> notes.certificate(c, 0));
            all.forEach(c -> certificate(c, draft));
            o.key().ifPresent(k -> {
                draft.fact("key", k.kind().word());
                notes.pair(all, k, 0);
            });
        });
        return draft.done(name, Inspection.Kind.KEY_STORE);
    }
}
