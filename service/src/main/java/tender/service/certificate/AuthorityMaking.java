package tender.service.certificate;

import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.Lifetimes;
import tender.core.certificate.RevocationList;
import tender.service.refusal.Refused;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.certificate.Revocations;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;

/** Creates authorities, and imports those that exist. */
final class AuthorityMaking {
    private final Db db;
    private final Authorities authorities;
    private final Revoking revoking;
    private final SecureRandom random = new SecureRandom();

    AuthorityMaking(Db db, Authorities authorities, Revoking revoking) {
        this.db = db;
        this.authorities = authorities;
        this.revoking = revoking;
    }

    /**
     * An authority to make.
     *
     * @param publishesAt the address under which strangers fetch its list, written into certificates
     */
    record New(String name, CertificateKey.Kind kind, int years, Optional<String> publishesAt) {}

    /**
     * An authority that exists.
     *
     * @param certificate DER
     * @param revoked what it revoked before, by its own index
     * @param lists its revocation lists, so that whoever was revoked before stays refused
     */
    record Existing(
            String name,
            byte[] certificate,
            CertificateKey key,
            List<Authority.Revoked> revoked,
            List<RevocationList> lists,
            Optional<String> publishesAt) {}

    /** @throws Refused where there is one of that name */
    Authorities.Authority make(New wanted, By by) {
        Instant day = by.at().truncatedTo(ChronoUnit.DAYS);
        // the key is made before the transaction: RSA takes its time
        CertificateKey key = CertificateKey.generate(wanted.kind(), random);
        Authority made =
                Authority.make(wanted.name(), key, by.at(), day.plus(Duration.ofDays(365L * wanted.years())), random);
        return keep(wanted.name(), made, new Before(List.of(), 0), wanted.publishesAt(), "authority-made", by);
    }

    /** @throws Refused where there is one of that name, or a list is another authority's */
    Authorities.Authority take(Existing there, By by) {
        if (!there.lists().stream().allMatch(l -> l.isSignedBy(there.certificate()))) {
            throw new Refused(Refused.Kind.MALFORMED, "is signed by another authority", "revocationList");
        }
        List<Authority.Revoked> revoked = new ArrayList<>(there.revoked());
        there.lists().forEach(list -> revoked.addAll(list.revoked()));
        long number =
                there.lists().stream().mapToLong(RevocationList::number).max().orElse(0);
        return keep(
                there.name(),
                Authority.of(there.certificate(), there.key(), random),
                new Before(revoked, number),
                there.publishesAt(),
                "authority-taken-in",
                by);
    }

    /** What an authority revoked before, and the number of its newest list; 0 where there was none. */
    private record Before(List<Authority.Revoked> revoked, long number) {}

    private Authorities.Authority keep(
            String name, Authority made, Before before, Optional<String> publishesAt, String action, By by) {
        publishesAt.ifPresent(AuthorityMaking::check);
        Instant until = by.at().plus(Lifetimes.REVOCATION_LIST).truncatedTo(ChronoUnit.SECONDS);
        Authorities.Authority a = new Authorities.Authority(
                Ids.next(),
                name,
                made.certificate(),
                made.key().kind().word(),
                CertificateFacts.of(made.certificate()).ends(),
                publishesAt,
                made.revocations(List.of(), before.number() + 1, by.at(), until),
                before.number() + 1,
                until,
                by.at());
        return db.inTransaction(tx -> {
            if (Authorities.byName(tx, name).isPresent()) {
                throw new Refused(Refused.Kind.CONFLICT, "there is an authority of this name already", "name");
            }
            authorities.insert(tx, a, made.key().privateKey());
            revoke(tx, a, before, by.at());
            Events.say(tx, "authority", a.id());
            String words =
                    name + ", until " + a.ends() + ", " + before.revoked().size() + " revoked before";
            Journal.append(tx, by, action, "authority", a.id(), words);
            return Authorities.byId(tx, a.id()).orElseThrow();
        });
    }

    private void revoke(Tx tx, Authorities.Authority a, Before before, Instant now) {
        before.revoked()
                .forEach(r -> Revocations.add(
                        tx,
                        a.id(),
                        new Certificates.Revoked(r.serial(), r.at(), r.reason()),
                        "came with the authority"));
        if (!before.revoked().isEmpty()) {
            revoking.list(tx, a, now);
        }
    }

    /** RFC 5280 §8: lists are fetched over plain HTTP, or fetching one would need a certificate to be checked. */
    private static void check(String publishesAt) {
        if (!publishesAt.matches("http://[A-Za-z0-9.\\[\\]:-]{1,200}/[A-Za-z0-9./_-]{0,200}")) {
            throw new Refused(Refused.Kind.MALFORMED, "is an address that begins with http://", "publishesAt");
        }
    }
}
