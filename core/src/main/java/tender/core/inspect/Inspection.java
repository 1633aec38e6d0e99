package tender.core.inspect;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import tender.core.certificate.CertificateFacts;
import tender.core.finding.Severity;
import tender.core.profile.SecretsInside;
import tender.core.wire.ParseProblem;

/**
 * What a file is and says. Never holds a secret.
 *
 * @param name the file's own, or its path in an archive
 * @param facts in the order a reader wants them
 * @param parts what an archive holds
 */
public record Inspection(
        String name,
        Kind kind,
        List<Fact> facts,
        List<CertificateFacts> certificates,
        List<Note> notes,
        List<Inspection> parts) {
    /** Kinds of files. */
    public enum Kind {
        OPENVPN_CLIENT("OpenVPN client file"),
        OPENVPN_SERVER("OpenVPN server file"),
        WIREGUARD_CLIENT("WireGuard client file"),
        WIREGUARD_SERVER("WireGuard file of a gateway"),
        IKEV2("IKEv2 connection (swanctl)"),
        L2TP("L2TP/IPsec settings"),
        PPTP("PPTP settings"),
        CERTIFICATES("certificate"),
        PRIVATE_KEY("private key"),
        PUBLIC_KEY("public key"),
        KEY_STORE("key store (PKCS#12)"),
        REVOCATION_LIST("list of revoked certificates"),
        REQUEST("request for a certificate"),
        STATIC_KEY("key shared by all of a listener's files"),
        ARCHIVE("archive"),
        TEXT("text"),
        UNKNOWN("unknown file");

        private final String words;

        Kind(String words) {
            this.words = words;
        }

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
        }

        public String words() {
            return words;
        }
    }

    /** A label and what the file says of it. */
    public record Fact(String label, String value) {}

    /** Something against the file: what, on which line (0 for the whole), and the very value where it is no secret. */
    public record Note(Hint hint, int line, String detail) {}

    public Inspection {
        facts = List.copyOf(facts);
        certificates = List.copyOf(certificates);
        notes = notes.stream()
                .sorted(Comparator.comparing((Note n) -> n.hint().severity()).thenComparing(Note::line))
                .toList();
        parts = List.copyOf(parts);
    }

    /** Its notes and those of its parts. */
    public List<Note> allNotes() {
        return Stream.concat(notes.stream(), parts.stream().flatMap(p -> p.allNotes().stream()))
                .toList();
    }

    /** The same without what does not count where it is looked at. */
    public Inspection without(Hint hint) {
        return new Inspection(
                name,
                kind,
                facts,
                certificates,
                notes.stream().filter(n -> n.hint() != hint).toList(),
                parts.stream().map(p -> p.without(hint)).toList());
    }

    /** The same without secrets of the file that stand where others belong. */
    Inspection without(SecretsInside secrets) {
        return new Inspection(
                secrets.hidden(name),
                kind,
                facts.stream()
                        .map(f -> new Fact(f.label(), secrets.hidden(f.value())))
                        .toList(),
                certificates,
                notes.stream()
                        .map(n -> new Note(n.hint(), n.line(), secrets.hidden(n.detail())))
                        .toList(),
                parts);
    }

    public boolean asksPassphrase() {
        return allNotes().stream().anyMatch(n -> n.hint() == Hint.PASSPHRASE_NEEDED);
    }

    /** Puts an inspection together piece by piece. */
    static final class Draft {
        private final List<Fact> facts = new ArrayList<>();
        private final List<CertificateFacts> certificates = new ArrayList<>();
        private final List<Note> notes = new ArrayList<>();
        private final List<Inspection> parts = new ArrayList<>();

        Draft fact(String label, String value) {
            if (!value.isEmpty()) {
                facts.add(new Fact(label, value));
            }
            return this;
        }

        Draft note(Hint hint, int line, String detail) {
            notes.add(new Note(hint, line, shown(detail)));
            return this;
        }

        Draft certificate(CertificateFacts c) {
            certificates.add(c);
            return this;
        }

        /** Notes what cannot be read. */
        Draft problems(List<ParseProblem> more) {
            more.forEach(this::unread);
            return this;
        }

        Draft unread(ParseProblem p) {
            return note(p.code().equals("too-large") ? Hint.TOO_COSTLY : Hint.UNREAD, p.line(), p.what());
        }

        /** Notes why its own program refuses the file, where that is not said already. */
        Draft refused(Optional<ParseProblem> refusal) {
            refusal.filter(r -> notes.stream().noneMatch(n -> n.hint() == Hint.UNREAD && n.line() == r.line()))
                    .filter(r -> r.line() > 0
                            || notes.stream().noneMatch(n -> n.hint().severity() == Severity.ERROR))
                    .ifPresent(r -> note(Hint.REFUSED, r.line(), r.what()));
            return this;
        }

        Draft part(Inspection part) {
            parts.add(part);
            return this;
        }

        boolean hasNotes() {
            return !notes.isEmpty();
        }

        List<CertificateFacts> certificates() {
            return certificates;
        }

        Inspection done(String name, Kind kind) {
            return new Inspection(name, kind, facts, certificates, notes, parts);
        }

        private static String shown(String text) {
            String plain = text.replaceAll("[\\p{Cntrl}\\p{Cf}]", " ").strip();
            return plain.length() > 160 ? plain.substring(0, 160) + "…" : plain;
        }
    }
}
