package tender.service.certificate;

import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.KeyStoreFile;
import tender.core.credential.Custody;
import tender.core.credential.RevealSecret;
import tender.service.refusal.Refused;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;

/** Signs certificates by our authorities. */
public final class Signing {
    private final Db db;
    private final Signers signers;
    private final Certificates certificates;
    private final SecureRandom random = new SecureRandom();

    Signing(Db db, Signers signers, Certificates certificates) {
        this.db = db;
        this.signers = signers;
        this.certificates = certificates;
    }

    /** What was signed, and the key store to give once. */
    public record Signed(Certificates.Certificate certificate, byte[] authority, Optional<byte[]> keyStore) {}

    /** @throws Refused where there is no such authority, or it ends earlier */
    public Signed sign(UUID authorityId, SignOrder order, By by) {
        // the key is made before the transaction: RSA takes its time
        Optional<CertificateKey> key = order.madeHere().map(m -> CertificateKey.generate(m.kind(), random));
        byte[] publicKey = order.subject()
                .match(SignOrder.OnDevice::publicKey, made -> key.orElseThrow().publicKey());
        return db.inTransaction(tx -> {
            Authorities.Authority a =
                    Authorities.byId(tx, authorityId).orElseThrow(() -> Refused.notFound("authority"));
            Certificates.Certificate c = signed(tx, a, order, publicKey, by.at());
            certificates.insert(tx, c, key.map(CertificateKey::privateKey));
            Events.say(tx, "authority", a.id());
            Journal.append(
                    tx,
                    by,
                    "certificate-signed",
                    "certificate",
                    c.id(),
                    c.purpose() + " " + c.serial() + ", until " + c.ends());
            return new Signed(
                    c,
                    a.certificate(),
                    order.madeHere().map(made -> keyStore(c, made, key.orElseThrow(), a.certificate())));
        });
    }

    private Certificates.Certificate signed(
            Tx tx, Authorities.Authority a, SignOrder order, byte[] publicKey, Instant now) {
        Instant until = now.truncatedTo(ChronoUnit.DAYS).plus(Duration.ofDays(order.days()));
        if (until.isAfter(a.ends())) {
            throw new Refused(Refused.Kind.CONFLICT, "it would outlive its authority, which ends " + a.ends(), "days");
        }
        byte[] content = signers.of(tx, a)
                .sign(
                        order.purpose(),
                        order.commonName(),
                        order.names(),
                        publicKey,
                        now,
                        until,
                        a.publishesAt(),
                        random);
        CertificateFacts facts = CertificateFacts.of(content);
        return new Certificates.Certificate(
                Ids.next(),
                a.id(),
                a.name(),
                facts.serial(),
                order.purpose().name().toLowerCase(Locale.ROOT),
                facts.commonName(),
                order.names(),
                content,
                (order.madeHere().isPresent() ? Custody.HELD : Custody.DEVICE_ONLY).name(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                facts.starts(),
                facts.ends(),
                Optional.empty(),
                Optional.empty(),
                now);
    }

    private byte[] keyStore(Certificates.Certificate c, SignOrder.MadeHere made, CertificateKey key, byte[] authority) {
        return KeyStoreFile.write(
                made.form(),
                c.commonName(),
                key,
                List.of(c.content(), authority),
                made.passphrase().revealText(RevealSecret.TO_HAND_OUT),
                random);
    }
}
