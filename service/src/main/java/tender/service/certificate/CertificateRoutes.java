package tender.service.certificate;

import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.api.CertificateApi;
import tender.api.Page;
import tender.core.certificate.Lifetimes;
import tender.core.wire.MalformedException;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.certificate.Revocations;
import tender.store.jdbc.Db;

/** Routes of authorities and certificates. */
public final class CertificateRoutes {
    private static final Duration SOON = Duration.ofDays(30);
    private static final Map<String, Integer> REASONS = Map.of(
            "unspecified",
            0,
            "key-compromise",
            1,
            "affiliation-changed",
            3,
            "superseded",
            4,
            "cessation-of-operation",
            5);

    private final Db db;
    private final Signing signing;

    public CertificateRoutes(Db db, Signing signing) {
        this.db = db;
        this.signing = signing;
    }

    public List<Route> routes() {
        return List.of(
                Route.get(
                        "/lifetimes",
                        Role.READERS,
                        "How long certificates and lists last where nobody says otherwise",
                        CertificateApi.Lifetimes.class,
                        call -> Answer.ok(new CertificateApi.Lifetimes(
                                (int) Lifetimes.CLIENT.toDays(),
                                (int) Lifetimes.LISTENER.toDays(),
                                (int) Lifetimes.RENEWED_LISTENER.toDays(),
                                (int) Lifetimes.REVOCATION_LIST.toDays()))),
                Route.page(
                        "/authorities",
                        Role.READERS,
                        "Certificate authorities",
                        CertificateApi.Authority.class,
                        call -> Answer.ok(new Page<>(
                                db.inTransaction(tx -> Authorities.all(tx).stream()
                                        .map(a -> render(
                                                a,
                                                Revocations.all(tx, a.id(), call.now())
                                                        .size()))
                                        .toList()),
                                Optional.empty()))),
                Route.post(
                                "/authorities",
                                Role.OWNERS,
                                "Make a certificate authority",
                                CertificateApi.MakeAuthority.class,
                                CertificateApi.Authority.class,
                                call -> Answer.created(render(
                                        signing.make(
                                                call.body(CertificateApi.MakeAuthority.class),
                                                call.caller().reference(),
                                                call.now()),
                                        0)))
                        .afresh(),
                Route.post(
                                "/authorities/taken-in",
                                Role.OWNERS,
                                "Take in an authority that exists, with its key",
                                CertificateApi.TakeAuthority.class,
                                CertificateApi.Authority.class,
                                call -> Answer.created(render(
                                        signing.take(
                                                call.body(CertificateApi.TakeAuthority.class),
                                                call.caller().reference(),
                                                call.now()),
                                        0)))
                        .afresh(),
                Route.get(
                        "/authorities/{id}/list",
                        Role.READERS,
                        "The list of revoked certificates as it was signed last, DER",
                        null,
                        call -> db.inTransaction(tx -> Authorities.byId(tx, call.id()))
                                .map(a -> (Answer) new Answer.File("application/pkix-crl", a.name() + ".crl", a.list()))
                                .orElseThrow(() -> ApiFailure.notFound("authority"))),
                Route.page(
                        "/authorities/{id}/certificates",
                        Role.READERS,
                        "Certificates that an authority signed, by serial number",
                        CertificateApi.Certificate.class,
                        call -> Cursor.byName(
                                call,
                                (after, limit) ->
                                        db.inTransaction(tx -> Certificates.page(tx, call.id(), after, limit)),
                                Certificates.Certificate::serial,
                                all -> all.stream()
                                        .map(c -> render(c, call.now()))
                                        .toList())),
                Route.post(
                                "/authorities/{id}/certificates",
                                Role.WRITERS,
                                "Sign a certificate; a key that Tender makes is given once, in a key store",
                                CertificateApi.Sign.class,
                                CertificateApi.Signed.class,
                                this::sign)
                        .afresh(),
                Route.post(
                        "/certificates/{serial}/revoke",
                        Role.WRITERS,
                        "Revoke a certificate and sign the list anew",
                        CertificateApi.Revoke.class,
                        CertificateApi.Certificate.class,
                        this::revoke));
    }

    private Answer sign(Call call) {
        Signing.Signed signed = signing.sign(
                call.id(), call.body(CertificateApi.Sign.class), call.caller().reference(), call.now());
        return Answer.created(new CertificateApi.Signed(
                render(signed.certificate(), call.now()),
                Signing.pem(signed.certificate().content(), signed.authority()),
                signed.keyStore().map(Base64.getEncoder()::encodeToString)));
    }

    private Answer revoke(Call call) {
        String reason = call.bodyIfAny(CertificateApi.Revoke.class)
                .flatMap(CertificateApi.Revoke::reason)
                .orElse("unspecified");
        if (!REASONS.containsKey(reason)) {
            throw new MalformedException(
                    "reason",
                    "reason",
                    String.join(", ", REASONS.keySet().stream().sorted().toList()));
        }
        Certificates.Certificate c = db.inTransaction(tx -> Certificates.bySerial(tx, call.path("serial")))
                .orElseThrow(() -> ApiFailure.notFound("certificate"));
        return Answer.ok(
                render(signing.revoke(c.id(), REASONS.get(reason), call.caller().reference(), call.now()), call.now()));
    }

    private static CertificateApi.Authority render(Authorities.Authority a, int revoked) {
        return new CertificateApi.Authority(
                a.id().toString(),
                a.name(),
                Signing.pem(a.certificate()),
                a.keyKind(),
                a.ends(),
                a.publishesAt(),
                revoked,
                a.listNumber(),
                a.listUntil(),
                a.madeAt());
    }

    private static CertificateApi.Certificate render(Certificates.Certificate c, Instant now) {
        String state = c.revokedAt().isPresent()
                ? "revoked"
                : c.ends().isBefore(now) ? "ended" : c.ends().isBefore(now.plus(SOON)) ? "ends-soon" : "valid";
        return new CertificateApi.Certificate(
                c.id().toString(),
                c.authority(),
                c.serial(),
                c.purpose(),
                c.commonName(),
                c.names(),
                state,
                c.custody().toLowerCase(java.util.Locale.ROOT).replace('_', '-'),
                c.starts(),
                c.ends(),
                c.revokedAt());
    }
}
