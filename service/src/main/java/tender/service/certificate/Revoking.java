package tender.service.certificate;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.UUID;
import tender.core.certificate.Authority;
import tender.core.certificate.Lifetimes;
import tender.core.certificate.RevocationList;
import tender.service.gateway.GatewayJobs;
import tender.service.refusal.Refused;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.certificate.Revocations;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.reconcile.DesiredResources;

/** Revokes certificates. A revocation and the list that names it are one transaction. */
public final class Revoking {
    /** The reason for those whose holder has left (RFC 5280 §5.3.1). */
    public static final int CESSATION = 5;

    static final String LIST_LABEL = "X509 CRL";

    private final Db db;
    private final Signers signers;

    Revoking(Db db, Signers signers) {
        this.db = db;
        this.signers = signers;
    }

    /**
     * Takes over what a list found at a gateway names and the records do not, and signs the list anew; so no list that
     * Tender writes is ever shorter than the one it replaces.
     *
     * @param from where it was found, in words
     * @return how many were new
     */
    public int learn(Tx tx, UUID authorityId, RevocationList found, String from, Instant now) {
        Authorities.Authority a = Authorities.locked(tx, authorityId).orElseThrow();
        Set<String> known = new HashSet<>();
        Revocations.all(tx, authorityId, now).forEach(r -> known.add(r.serial()));
        Set<String> own = Certificates.serials(tx, authorityId);
        int fresh = 0;
        for (Authority.Revoked r : found.revoked()) {
            boolean expired = own.contains(r.serial()) && Certificates.isExpired(tx, authorityId, r.serial(), now);
            if (!known.contains(r.serial())
                    && !expired
                    && Revocations.add(
                            tx, authorityId, new Certificates.Revoked(r.serial(), r.at(), r.reason()), from)) {
                fresh++;
            }
        }
        if (fresh > 0 || found.number() >= a.listNumber()) {
            list(tx, a, Math.max(a.listNumber(), found.number()), now);
            Journal.append(
                    tx, By.tender(now), "revocations-learned", "authority", authorityId, fresh + " from " + from);
        }
        return fresh;
    }

    /** Revokes a certificate that an authority of ours signed before Tender knew it. */
    public void revokeForeign(Tx tx, UUID authorityId, String serial, String why, Instant now) {
        Authorities.Authority a = Authorities.locked(tx, authorityId).orElseThrow();
        if (Revocations.add(tx, authorityId, new Certificates.Revoked(serial, now, CESSATION), why)) {
            list(tx, a, a.listNumber(), now);
        }
    }

    /** Revokes within a transaction and signs the list anew. */
    public void revoke(Tx tx, Certificates.Certificate c, int reason, Instant now) {
        Authorities.Authority a = Authorities.locked(tx, c.authorityId()).orElseThrow();
        if (!Certificates.revoke(tx, c.id(), reason, now)) {
            throw new Refused(Refused.Kind.CONFLICT, "this certificate was revoked before");
        }
        list(tx, a, now);
    }

    Certificates.Certificate revoke(UUID certificateId, int reason, By by) {
        return db.inTransaction(tx -> {
            Certificates.Certificate c =
                    Certificates.byId(tx, certificateId).orElseThrow(() -> Refused.notFound("certificate"));
            revoke(tx, c, reason, by.at());
            Set<UUID> gateways = new LinkedHashSet<>(Certificates.gatewaysOf(tx, c.authorityId()));
            c.gatewayId().ifPresent(gateways::add);
            gateways.forEach(g -> {
                DesiredResources.revocationLists(tx, g);
                GatewayJobs.reconcile(tx, g);
            });
            Journal.append(tx, by, "certificate-revoked", "certificate", certificateId, c.serial());
            return Certificates.byId(tx, certificateId).orElseThrow();
        });
    }

    /** Signs the list of revoked certificates anew; the authority's row is locked. */
    void list(Tx tx, Authorities.Authority a, Instant now) {
        list(tx, a, a.listNumber(), now);
    }

    private void list(Tx tx, Authorities.Authority a, long after, Instant now) {
        long number = after + 1;
        Instant until = now.plus(Lifetimes.REVOCATION_LIST).truncatedTo(ChronoUnit.SECONDS);
        List<Authority.Revoked> revoked = Revocations.all(tx, a.id(), now).stream()
                .map(r -> new Authority.Revoked(r.serial(), r.at(), r.reason()))
                .toList();
        Authorities.list(tx, a.id(), signers.of(tx, a).revocations(revoked, number, now, until), number, until);
        Events.say(tx, "authority", a.id());
    }
}
