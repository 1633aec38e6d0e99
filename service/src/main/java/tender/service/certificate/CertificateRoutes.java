package tender.service.certificate;

import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.api.CertificateApi;
import tender.api.Page;
import tender.api.ProblemCode;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.IssuedIndex;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.Lifetimes;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.certificate.RevocationList;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.network.Host;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.certificate.Authorities;
import tender.store.certificate.Certificates;
import tender.store.certificate.Revocations;
import tender.store.jdbc.Db;

/** Routes of authorities and certificates. */
final class CertificateRoutes implements Routes {
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

    private static final int DEFAULT_YEARS = 10;
    private static final int MAX_YEARS = 30;
    private static final int MAX_DAYS = 3_650;
    private static final int MAX_NAMES = 50;
    private static final int LEAST_PASSPHRASE = 8;

    private final Db db;
    private final AuthorityMaking making;
    private final Signing signing;
    private final Revoking revoking;

    CertificateRoutes(Db db, AuthorityMaking making, Signing signing, Revoking revoking) {
        this.db = db;
        this.making = making;
        this.signing = signing;
        this.revoking = revoking;
    }

    @Override
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
                                this::make)
                        .afresh(),
                Route.post(
                                "/authorities/taken-in",
                                Role.OWNERS,
                                "Import an existing authority with its private key",
                                CertificateApi.TakeAuthority.class,
                                CertificateApi.Authority.class,
                                this::take)
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

    private Answer make(Call call) {
        CertificateApi.MakeAuthority request = call.body(CertificateApi.MakeAuthority.class);
        AuthorityMaking.New wanted = new AuthorityMaking.New(
                Fields.name("name", request.name()),
                key(request.key()),
                Fields.range("years", request.years().orElse(DEFAULT_YEARS), 1, MAX_YEARS),
                publishesAt(request.publishesAt()));
        return Answer.created(render(making.make(wanted, call.by()), 0));
    }

    private static CertificateKey.Kind key(Optional<String> word) {
        return Fields.parse("key", word.orElse(CertificateKey.Kind.EC_P256.word()), CertificateKey.Kind::parse);
    }

    /** RFC 5280 §8: lists are fetched over plain HTTP, or fetching one would need a certificate to be checked. */
    private static Optional<String> publishesAt(Optional<String> url) {
        url.filter(u -> !u.matches("http://[A-Za-z0-9.\\[\\]:-]{1,200}/[A-Za-z0-9./_-]{0,200}"))
                .ifPresent(u -> {
                    throw new MalformedException("url", "publishesAt", "is an address that begins with http://");
                });
        return url;
    }

    private Answer take(Call call) {
        CertificateApi.TakeAuthority request = call.body(CertificateApi.TakeAuthority.class);
        AuthorityMaking.Existing there = new AuthorityMaking.Existing(
                Fields.name("name", request.name()),
                first("certificate", request.certificate(), "CERTIFICATE").der(),
                opened(Fields.given("key", request.key()), request.passphrase()),
                request.issued().map(IssuedIndex::revoked).orElse(List.of()),
                request.revocationList().map(CertificateRoutes::lists).orElse(List.of()),
                publishesAt(request.publishesAt()));
        return Answer.created(render(making.take(there, call.by()), 0));
    }

    private static CertificateKey opened(Secret text, Optional<Secret> passphrase) {
        PemText.Block block = PemText.read(text.revealText(RevealSecret.TO_ENCRYPT)).blocks().stream()
                .filter(b -> PrivateKeyFile.isKey(b.label()))
                .findFirst()
                .orElseThrow(() -> new MalformedException("key", "key", "holds no private key in PEM"));
        PrivateKeyFile file = PrivateKeyFile.of(block);
        return file.key()
                .or(() -> passphrase.flatMap(p -> file.open(p.revealText(RevealSecret.TO_COMPARE))))
                .orElseThrow(() -> new MalformedException("key", "passphrase", "does not open the key"));
    }

    private static List<RevocationList> lists(String pem) {
        List<RevocationList> out = PemText.read(pem).blocks().stream()
                .filter(b -> b.label().equals(Revoking.LIST_LABEL))
                .map(b -> RevocationList.of(b.der()))
                .toList();
        if (out.isEmpty()) {
            throw new MalformedException("pem", "revocationList", "holds no revocation list in PEM");
        }
        return out;
    }

    private static PemText.Block first(String field, String text, String label) {
        return PemText.read(Fields.required(field, text)).blocks().stream()
                .filter(b -> b.label().equals(label))
                .findFirst()
                .orElseThrow(() -> new MalformedException(
                        "pem", field, "holds no " + label.toLowerCase(java.util.Locale.ROOT) + " in PEM"));
    }

    private Answer sign(Call call) {
        Signing.Signed signed = signing.sign(call.id(), order(call.body(CertificateApi.Sign.class)), call.by());
        return Answer.created(new CertificateApi.Signed(
                render(signed.certificate(), call.now()),
                pem(signed.certificate().content(), signed.authority()),
                signed.keyStore().map(Base64.getEncoder()::encodeToString)));
    }

    private static SignOrder order(CertificateApi.Sign request) {
        Authority.Purpose purpose = switch (Fields.required("purpose", request.purpose())) {
            case "server" -> Authority.Purpose.SERVER;
            case "client" -> Authority.Purpose.CLIENT;
            default -> throw new MalformedException("purpose", "purpose", "server or client");
        };
        List<String> names = request.names().orElse(List.of());
        Fields.range("names", names.size(), purpose == Authority.Purpose.SERVER ? 1 : 0, MAX_NAMES);
        names.forEach(n -> Fields.parse("names", n, Host::parse));
        return new SignOrder(
                purpose,
                Fields.title("commonName", request.commonName()),
                names,
                Fields.range("days", request.days().orElse((int) Lifetimes.LISTENER.toDays()), 1, MAX_DAYS),
                request.request().map(CertificateRoutes::onDevice).orElseGet(() -> madeHere(request)));
    }

    private static SignOrder.Subject onDevice(String request) {
        return new SignOrder.OnDevice(Authority.publicKeyOf(
                first("request", request, "CERTIFICATE REQUEST").der()));
    }

    private static SignOrder.Subject madeHere(CertificateApi.Sign request) {
        Secret passphrase = request.passphrase()
                .filter(p -> p.length() >= LEAST_PASSPHRASE)
                .orElseThrow(() -> new ApiFailure(
                        ProblemCode.MALFORMED,
                        "a passphrase of 8 characters or more locks the key store",
                        "passphrase"));
        return new SignOrder.MadeHere(
                key(request.key()),
                passphrase,
                request.legacy().orElse(false) ? KeyStoreFile.Form.LEGACY : KeyStoreFile.Form.MODERN);
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
        return Answer.ok(render(revoking.revoke(c.id(), REASONS.get(reason), call.by()), call.now()));
    }

    private static CertificateApi.Authority render(Authorities.Authority a, int revoked) {
        return new CertificateApi.Authority(
                a.id().toString(),
                a.name(),
                pem(a.certificate()),
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
                : c.ends().isBefore(now) ? "expired" : c.ends().isBefore(now.plus(SOON)) ? "expires-soon" : "valid";
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

    /** A certificate in PEM with its authority's behind it. */
    private static String pem(byte[]... certificates) {
        StringBuilder out = new StringBuilder();
        for (byte[] c : certificates) {
            out.append(PemText.write("CERTIFICATE", c));
        }
        return out.toString();
    }
}
