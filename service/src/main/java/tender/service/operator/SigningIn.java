package tender.service.operator;

import com.eatthepath.otp.TimeBasedOneTimePasswordGenerator;
import java.security.InvalidKeyException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import javax.crypto.spec.SecretKeySpec;
import tender.api.OperatorApi;
import tender.api.ProblemCode;
import tender.core.credential.PasswordHash;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.handout.LinkToken;
import tender.core.wire.Fields;
import tender.service.http.ApiFailure;
import tender.service.http.Role;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.journal.Journal;
import tender.store.operator.Attempts;
import tender.store.operator.Operators;
import tender.store.operator.SignIns;

/** Checks name, password and one-time code, with limits per account and per source; gives sign-ins and tokens. */
public final class SigningIn {
    static final Duration WINDOW = Duration.ofMinutes(15);
    static final int MAX_PER_ACCOUNT = 10;
    static final int MAX_PER_SOURCE = 30;
    private static final Duration BROWSER_LIFE = Duration.ofHours(12);
    private static final Duration TOKEN_LIFE = Duration.ofDays(30);
    private static final Duration FRESH = Duration.ofMinutes(5);
    private static final int MIN_PASSWORD = 12;

    private final Db db;
    private final Operators operators;
    private final boolean secondFactorRequired;
    private final SecureRandom random = new SecureRandom();
    /** Stands in for the hash of an unknown name, so that unknown and wrong take the same time. */
    private final String nobody = PasswordHash.make(LinkToken.generate(random), random);

    public SigningIn(Db db, Operators operators, boolean secondFactorRequired) {
        this.db = db;
        this.operators = operators;
        this.secondFactorRequired = secondFactorRequired;
    }

    /** A sign-in that succeeded; the token is known here only. */
    public record Done(Operators.Operator operator, Secret token, Instant expiresAt) {}

    public Done signIn(OperatorApi.SignIn request, String source, Instant now) {
        String name = Fields.required("name", request.name());
        Secret password = Fields.given("password", request.password());
        boolean client = request.forClient().orElse(false);
        String account = "account:" + LinkToken.digest(name).substring(0, 32);
        limit(account, MAX_PER_ACCOUNT, now);
        limit("source:" + source, MAX_PER_SOURCE, now);
        Optional<Operators.Operator> found = db.inTransaction(tx -> operators.byName(tx, name));
        boolean right = PasswordHash.matches(
                password, found.map(Operators.Operator::passwordHash).orElse(nobody));
        if (found.isEmpty() || !right) {
            throw failed(account, source, now);
        }
        checkCode(found.get(), request.code(), account, source, now);
        Secret token = LinkToken.generate(random);
        Instant expires = now.plus(client ? TOKEN_LIFE : BROWSER_LIFE);
        String label = request.label().map(l -> Fields.title("label", l)).orElse(client ? "client" : "browser");
        db.run(tx -> {
            SignIns.insert(
                    tx,
                    LinkToken.digest(token),
                    Ids.next(),
                    found.get().id(),
                    client ? "client" : "browser",
                    label,
                    now,
                    expires,
                    now.plus(FRESH));
            Journal.append(
                    tx,
                    now,
                    "operator:" + found.get().id(),
                    "sign-in",
                    "operator",
                    found.get().id().toString(),
                    client ? "client" : "browser");
        });
        return new Done(found.get(), token, expires);
    }

    private void limit(String subject, int most, Instant now) {
        if (db.inTransaction(tx -> Attempts.since(tx, subject, now.minus(WINDOW))) >= most) {
            throw new ApiFailure(ProblemCode.TOO_MANY, "too many failed sign-ins; wait a quarter of an hour");
        }
    }

    private ApiFailure failed(String account, String source, Instant now) {
        db.run(tx -> {
            Attempts.add(tx, account, now);
            Attempts.add(tx, "source:" + source, now);
        });
        return new ApiFailure(ProblemCode.WRONG_SIGN_IN, "name, password or code is wrong");
    }

    private void checkCode(
            Operators.Operator operator, Optional<String> code, String account, String source, Instant now) {
        if (!operator.hasCode()) {
            if (secondFactorRequired
                    && !operator.mustChange()
                    && !Role.of(operator.role()).equals(Role.OWNER)) {
                throw new ApiFailure(
                        ProblemCode.NOT_ALLOWED,
                        "this installation requires a one-time code; an owner has to let you enrol");
            }
            return;
        }
        if (code.isEmpty()) {
            throw new ApiFailure(ProblemCode.CODE_NEEDED, "this account has a second factor");
        }
        Secret seed = db.inTransaction(tx -> operators.seed(tx, operator.id())).orElseThrow();
        if (!isRight(seed, code.get(), now)) {
            throw failed(account, source, now);
        }
    }

    /** RFC 6238 with one step of tolerance either way. */
    static boolean isRight(Secret seed, String code, Instant now) {
        if (!code.matches("[0-9]{6}")) {
            return false;
        }
        try {
            TimeBasedOneTimePasswordGenerator generator = new TimeBasedOneTimePasswordGenerator();
            SecretKeySpec key = new SecretKeySpec(seed.reveal(RevealSecret.TO_SIGN_IN), generator.getAlgorithm());
            boolean right = false;
            for (int step = -1; step <= 1; step++) {
                String expected = generator.generateOneTimePasswordString(
                        key, now.plus(generator.getTimeStep().multipliedBy(step)));
                right |= MessageDigest.isEqual(expected.getBytes(), code.getBytes());
            }
            return right;
        } catch (InvalidKeyException e) {
            throw new IllegalStateException("a seed is a key", e);
        }
    }

    /** The hash of a password that is good enough. */
    String hash(String field, Secret password) {
        if (password == null || password.length() < MIN_PASSWORD || password.length() > 1_000) {
            throw new ApiFailure(ProblemCode.MALFORMED, field + " has at least " + MIN_PASSWORD + " characters", field);
        }
        return PasswordHash.make(password, random);
    }

    /** Adds the first owner when there is nobody yet; the password given back is to be changed at first use. */
    public Optional<Secret> firstOwner(Instant now) {
        Secret password = tender.core.credential.Passphrase.generate(random);
        boolean added = db.inTransaction(tx -> {
            if (!operators.list(tx).isEmpty()) {
                return false;
            }
            UUID id = Ids.next();
            operators.insert(
                    tx,
                    new Operators.Operator(id, "owner", "owner", PasswordHash.make(password, random), true, false, 1),
                    now);
            Journal.append(tx, now, "tender", "operator-added", "operator", id.toString(), "first owner");
            return true;
        });
        return added ? Optional.of(password) : Optional.empty();
    }
}
