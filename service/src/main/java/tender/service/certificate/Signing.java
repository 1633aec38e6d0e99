package tender.service.certificate;

import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.api.CertificateApi;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.IssuedIndex;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.Lifetimes;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.certificate.RevocationList;
import tender.core.credential.Custody;
import tender.core.credential.RevealSecret;
import tender.core.network.Host;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.service.gateway.GatewayJobs;
import tender.service.refusal.Refused;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.certificate.Revocations;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.Journal;
import tender.store.reconcile.DesiredResources;

/** Makes authorities, signs and revokes. A revocation and the list that names it are one transaction. */
public final class Signing {
    /** For how long a signed list counts. */

    /** The reason for those whose holder has left (RFC 5280 §5.3.1). */
    public static final int CESSATION = 5;

    static final String LIST_LABEL = "X509 CRL";

    private static final int DEFAULT_YEARS = 10;
    private static final int MAX_NAMES = 50;
    private static final int LEAST_PASSPHRASE = 8;

    private final Db db;
    private final Authorities authorities;
    private final Certificates certificates;
    private final SecureRandom random = new SecureRandom();

    public Signing(Db db, Authorities authorities, Certificates certificates) {
        this.db = db;
        this.authorities = authorities;
        this.certificates = certificates;
    }

    Authorities.Authority make(CertificateApi.MakeAuthority request, String actor, Instant now) {
        String name = Fields.name("name", request.name());
        CertificateKey.Kind kind = Fields.parse(
                "key", request.key().orElse(CertificateKey.Kind.EC_P256.word()), CertificateKey.Kind::parse);
        int years = Fields.range("years", request.years().orElse(DEFAULT_YEARS), 1, 30);
        Instant day = now.truncatedTo(ChronoUnit.DAYS);
        // the key is made before the transaction: RSA takes its time
        CertificateKey key = CertificateKey.generate(kind, random);
        Authority made = Authority.make(name, key, now, day.plus(Duration.ofDays(365L * years)), random);
        return keep(name, made, List.of(), 0, request.publishesAt(), "authority-made", actor, now);
    }

    Authorities.Authority take(CertificateApi.TakeAuthority request, String actor, Instant now) {
        String name = Fields.name("name", request.name());
        byte[] certificate =
                first("certificate", request.certificate(), "CERTIFICATE").der();
        String keyText = Fields.given("key", request.key()).revealText(RevealSecret.TO_ENCRYPT);
        PemText.Block block = PemText.read(keyText).blocks().stream()
                .filter(b -> PrivateKeyFile.isKey(b.label()))
                .findFirst()
                .orElseThrow(() -> new MalformedException("key", "key", "holds no private key in PEM"));
        PrivateKeyFile file = PrivateKeyFile.of(block);
        CertificateKey key = file.key()
                .or(() -> request.passphrase().flatMap(p -> file.open(p.revealText(RevealSecret.TO_COMPARE))))
                .orElseThrow(() -> new MalformedException("key", "passphrase", "does not open the key"));
        List<Authority.Revoked> revoked =
                new ArrayList<>(request.issued().map(IssuedIndex::revoked).orElse(List.of()));
        long number = 0;
        for (RevocationList list : lists(request.revocationList(), certificate)) {
            revoked.addAll(list.revoked());
            number = Math.max(number, list.number());
        }
        return keep(
                name,
                Authority.of(certificate, key, random),
                revoked,
                number,
                request.publishesAt(),
                "authority-taken-in",
                actor,
                now);
    }

    private static List<RevocationList> lists(Optional<String> pem, byte[] authority) {
        if (pem.isEmpty()) {
            return List.of();
        }
        List<RevocationList> out = PemText.read(pem.get()).blocks().stream()
                .filter(b -> b.label().equals(LIST_LABEL))
                .map(b -> RevocationList.of(b.der()))
                .toList();
        if (out.isEmpty() || !out.stream().allMatch(l -> l.isSignedBy(authority))) {
            throw new Refused(
                    Refused.Kind.MALFORMED,
                    out.isEmpty() ? "holds no revocation list in PEM" : "is signed by another authority",
                    "revocationList");
        }
        return out;
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
                    tx,
                    now,
                    "tender",
                    "revocations-learned",
                    "authority",
                    authorityId.toString(),
                    fresh + " from " + from);
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

    private static PemText.Block first(String field, String text, String label) {
        return PemText.read(Fields.required(field, text)).blocks().stream()
                .filter(b -> b.label().equals(label))
                .findFirst()
                .orElseThrow(() -> new MalformedException(
                        "pem", field, "holds no " + label.toLowerCase(java.util.Locale.ROOT) + " in PEM"));
    }

    private Authorities.Authority keep(
            String name,
            Authority made,
            List<Authority.Revoked> revoked,
            long number,
            Optional<String> publishesAt,
            String action,
            String actor,
            Instant now) {
        publishesAt.ifPresent(url -> {
            if (!url.matches("http://[A-Za-z0-9.\\[\\]:-]{1,200}/[A-Za-z0-9./_-]{0,200}")) {
                // RFC 5280 §8: lists are fetched over plain HTTP, or fetching one would need a certificate to be
                // checked
                throw new Refused(Refused.Kind.MALFORMED, "is an address that begins with http://", "publishesAt");
            }
        });
        Instant until = now.plus(Lifetimes.REVOCATION_LIST).truncatedTo(ChronoUnit.SECONDS);
        Authorities.Authority a = new Authorities.Authority(
                Ids.next(),
                name,
                made.certificate(),
                made.key().kind().word(),
                CertificateFacts.of(made.certificate()).ends(),
                publishesAt,
                made.revocations(List.of(), number + 1, now, until),
                number + 1,
                until,
                now);
        return db.inTransaction(tx -> {
            if (Authorities.byName(tx, name).isPresent()) {
                throw new Refused(Refused.Kind.CONFLICT, "there is an authority of this name already", "name");
            }
            authorities.insert(tx, a, made.key().privateKey());
            revoked.forEach(r -> Revocations.add(
                    tx, a.id(), new Certificates.Revoked(r.serial(), r.at(), r.reason()), "came with the authority"));
            if (!revoked.isEmpty()) {
                list(tx, a, a.listNumber(), now);
            }
            Events.say(tx, "authority", a.id().toString());
            Journal.append(
                    tx,
                    now,
                    actor,
                    action,
                    "authority",
                    a.id().toString(),
                    name + ", until " + a.ends() + ", " + revoked.size() + " revoked before");
            return Authorities.byId(tx, a.id()).orElseThrow();
        });
    }

    public Authority signer(Tx tx, Authorities.Authority a) {
        return Authority.of(a.certificate(), CertificateKey.ofPrivate(authorities.key(tx, a.id())), random);
    }

    /** What was signed, and the key store to give once. */
    public record Signed(Certificates.Certificate certificate, byte[] authority, Optional<byte[]> keyStore) {}

    public Signed sign(UUID authorityId, CertificateApi.Sign request, String actor, Instant now) {
        Authority.Purpose purpose = switch (Fields.required("purpose", request.purpose())) {
            case "server" -> Authority.Purpose.SERVER;
            case "client" -> Authority.Purpose.CLIENT;
            default -> throw new MalformedException("purpose", "purpose", "server or client");
        };
        List<String> names = request.names().orElse(List.of());
        Fields.range("names", names.size(), purpose == Authority.Purpose.SERVER ? 1 : 0, MAX_NAMES);
        names.forEach(n -> Fields.parse("names", n, Host::parse));
        int days = Fields.range("days", request.days().orElse((int) Lifetimes.LISTENER.toDays()), 1, 3_650);
        boolean onDevice = request.request().isPresent();
        if (!onDevice
                && request.passphrase()
                        .filter(p -> p.length() >= LEAST_PASSPHRASE)
                        .isEmpty()) {
            throw new Refused(
                    Refused.Kind.MALFORMED, "a passphrase of 8 characters or more locks the key store", "passphrase");
        }
        Optional<CertificateKey> key = onDevice
                ? Optional.empty()
                : Optional.of(CertificateKey.generate(
                        Fields.parse(
                                "key",
                                request.key().orElse(CertificateKey.Kind.EC_P256.word()),
                                CertificateKey.Kind::parse),
                        random));
        byte[] publicKey = key.map(CertificateKey::publicKey)
                .orElseGet(() ->
                        Authority.publicKeyOf(first("request", request.request().get(), "CERTIFICATE REQUEST")
                                .der()));
        return db.inTransaction(tx -> {
            Authorities.Authority a =
                    Authorities.byId(tx, authorityId).orElseThrow(() -> Refused.notFound("authority"));
            Instant until = now.truncatedTo(ChronoUnit.DAYS).plus(Duration.ofDays(days));
            if (until.isAfter(a.ends())) {
                throw new Refused(
                        Refused.Kind.CONFLICT, "it would outlive its authority, which ends " + a.ends(), "days");
            }
            byte[] content = signer(tx, a)
                    .sign(
                            purpose,
                            Fields.title("commonName", request.commonName()),
                            names,
                            publicKey,
                            now,
                            until,
                            a.publishesAt(),
                            random);
            CertificateFacts facts = CertificateFacts.of(content);
            Certificates.Certificate c = new Certificates.Certificate(
                    Ids.next(),
                    a.id(),
                    a.name(),
                    facts.serial(),
                    request.purpose(),
                    facts.commonName(),
                    names,
                    content,
                    (onDevice ? Custody.DEVICE_ONLY : Custody.HELD).name(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    facts.starts(),
                    facts.ends(),
                    Optional.empty(),
                    Optional.empty(),
                    now);
            certificates.insert(tx, c, key.map(CertificateKey::privateKey));
            Events.say(tx, "authority", a.id().toString());
            Journal.append(
                    tx,
                    now,
                    actor,
                    "certificate-signed",
                    "certificate",
                    c.id().toString(),
                    c.purpose() + " " + c.serial() + ", until " + c.ends());
            Optional<byte[]> store = key.map(k -> KeyStoreFile.write(
                    request.legacy().orElse(false) ? KeyStoreFile.Form.LEGACY : KeyStoreFile.Form.MODERN,
                    facts.commonName(),
                    k,
                    List.of(content, a.certificate()),
                    request.passphrase().get().revealText(RevealSecret.TO_HAND_OUT),
                    random));
            return new Signed(c, a.certificate(), store);
        });
    }

    /** Revokes within a transaction and signs the list anew. */
    public void revoke(Tx tx, Certificates.Certificate c, int reason, Instant now) {
        Authorities.Authority a = Authorities.locked(tx, c.authorityId()).orElseThrow();
        if (!Certificates.revoke(tx, c.id(), reason, now)) {
            throw new Refused(Refused.Kind.CONFLICT, "this certificate was revoked before");
        }
        list(tx, a, now);
    }

    Certificates.Certificate revoke(UUID certificateId, int reason, String actor, Instant now) {
        return db.inTransaction(tx -> {
            Certificates.Certificate c =
                    Certificates.byId(tx, certificateId).orElseThrow(() -> Refused.notFound("certificate"));
            revoke(tx, c, reason, now);
            Set<UUID> gateways = new LinkedHashSet<>(Certificates.gatewaysOf(tx, c.authorityId()));
            c.gatewayId().ifPresent(gateways::add);
            gateways.forEach(g -> {
                DesiredResources.revocationLists(tx, g);
                GatewayJobs.reconcile(tx, g);
            });
            Journal.append(tx, now, actor, "certificate-revoked", "certificate", certificateId.toString(), c.serial());
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
        Authorities.list(tx, a.id(), signer(tx, a).revocations(revoked, number, now, until), number, until);
        Events.say(tx, "authority", a.id().toString());
    }

    /** A certificate in PEM with its authority's behind it. */
    static String pem(byte[]... certificates) {
        StringBuilder out = new StringBuilder();
        for (byte[] c : certificates) {
            out.append(PemText.write("CERTIFICATE", c));
        }
        return out.toString();
    }
}
