package tender.core.inspect;

import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateFacts.Role;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.wire.MalformedException;

/** What is said of certificates and keys, wherever they stand. */
final class CertificateNotes {
    private static final Duration SOON = Duration.ofDays(30);
    private static final int LEAST_BITS = 2048;

    private final Instant now;
    private final Inspection.Draft draft;
    private final Beside beside;

    CertificateNotes(Instant now, Inspection.Draft draft, Beside beside) {
        this.now = now;
        this.draft = draft;
        this.beside = beside;
    }

    /** Whose it is, in words: a common name or another, and its role. */
    static String whose(CertificateFacts c) {
        return c.anyName().orElse("(no name)") + ", " + c.role().words();
    }

    static String life(CertificateFacts c, Instant now) {
        long days = Duration.between(now, c.ends()).toDays();
        String left = c.ends().isBefore(now) ? "ended" : days == 1 ? "1 day left" : days + " days left";
        return "until " + c.ends().toString().substring(0, 10) + ", " + left;
    }

    /** A certificate with what is wrong in itself. */
    void certificate(CertificateFacts c, int line) {
        draft.certificate(c);
        String whose = c.anyName().orElse("(no name)");
        if (c.ends().isBefore(now)) {
            draft.note(
                    Hint.CERTIFICATE_EXPIRED,
                    line,
                    whose + " ended " + c.ends().toString().substring(0, 10));
        } else if (c.ends().isBefore(now.plus(SOON))) {
            draft.note(
                    Hint.CERTIFICATE_EXPIRES_SOON,
                    line,
                    whose + " ends " + c.ends().toString().substring(0, 10));
        }
        if (c.starts().isAfter(now)) {
            draft.note(Hint.CERTIFICATE_NOT_YET, line, whose + " counts from " + c.starts());
        }
        if (beside.revokes(c)) {
            draft.note(Hint.CERTIFICATE_REVOKED, line, whose + ", serial " + c.serial());
        }
        if (c.key().rsaBits() < LEAST_BITS) {
            draft.note(Hint.KEY_SHORT, line, whose + " has " + c.key().words());
        }
        if (c.isWeaklySigned() && !c.isSelfSigned()) {
            draft.note(Hint.SIGNATURE_WEAK, line, whose + " is signed with " + c.signature());
        }
    }

    /** Reads the certificates of a text; unreadable ones are noted as problems. */
    List<CertificateFacts> certificates(String text, int firstLine) {
        PemText.Reading pem = PemText.read(text);
        draft.problems(pem.problems().stream()
                .map(p -> new tender.core.wire.ParseProblem(firstLine + p.line(), p.code(), p.what()))
                .toList());
        List<CertificateFacts> out = new java.util.ArrayList<>();
        for (PemText.Block block : pem.blocks()) {
            if (isCertificate(block)) {
                try {
                    CertificateFacts c = CertificateFacts.of(block.der());
                    certificate(c, firstLine + block.line());
                    out.add(c);
                } catch (MalformedException e) {
                    draft.unread(new tender.core.wire.ParseProblem(firstLine + block.line(), e.code(), e.what()));
                }
            }
        }
        return out;
    }

    static boolean isCertificate(PemText.Block block) {
        return block.label().equals("CERTIFICATE")
                || block.label().equals("X509 CERTIFICATE")
                || block.label().equals("TRUSTED CERTIFICATE");
    }

    /** A private key: open, or locked; gives it where it can be looked at. */
    Optional<CertificateKey> key(PrivateKeyFile file, int line, Unlocking unlocking) {
        if (file.protection().isEmpty()) {
            draft.note(Hint.KEY_OPEN, line, "");
            file.key().ifPresent(k -> authoritys(k, line));
            return file.key();
        }
        draft.note(Hint.KEY_LOCKED, line, file.protection().get().words());
        if (file.protection().get().refused() && !unlocking.old()) {
            draft.note(Hint.LOCK_REFUSED, line, file.protection().get().cipher());
        }
        Optional<CertificateKey> opened = unlocking.open(file);
        opened.ifPresent(k -> authoritys(k, line));
        return opened;
    }

    /** A key of an authority whose certificate came along. */
    private void authoritys(CertificateKey key, int line) {
        beside.authorityOfKey(key.digest()).ifPresent(a -> draft.note(Hint.AUTHORITY_KEY_INSIDE, line, whose(a)));
    }

    /** Whether a key is the certificate's, and what follows for an authority's. */
    void pair(Collection<CertificateFacts> certificates, CertificateKey key, int line) {
        Optional<CertificateFacts> owner = certificates.stream()
                .filter(c -> c.key().digest().equals(key.digest()))
                .findFirst();
        if (owner.isEmpty() && !certificates.isEmpty()) {
            draft.note(Hint.KEY_OTHER, line, "");
        }
        owner.filter(c -> c.role() == Role.AUTHORITY)
                .filter(c -> beside.authorityOfKey(key.digest()).isEmpty())
                .ifPresent(c -> draft.note(Hint.AUTHORITY_KEY_INSIDE, line, whose(c)));
    }
}
