package tender.service.operator;

import com.eatthepath.otp.TimeBasedOneTimePasswordGenerator;
import java.security.InvalidKeyException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.UUID;
import javax.crypto.spec.SecretKeySpec;
import tender.core.credential.PasswordHash;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.handout.LinkToken;
import tender.service.http.Costly;
import tender.service.http.Source;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.operator.FailedAttempts;
import tender.store.operator.Operators;
import tender.store.operator.SignIns;

/**
 * Checks name, password and one-time code; gives sign-ins and tokens. FailedAttempts are counted before the work, per account and
 * source, so that nobody who guesses elsewhere locks the rightful person out; a source that was right lately is slowed down
 * and never shut out.
 */
public final class SigningIn {
    static final Duration WINDOW = Duration.ofMinutes(15);
    static final int MAX_PER_ACCOUNT_AND_SOURCE = 10;
    static final int MAX_PER_SOURCE = 30;
    /** Guesses from very many sources at one account: strangers have to wait, sources that were right lately do not. */
    static final int MAX_PER_ACCOUNT = 100;

    private static final Duration SLOW = Duration.ofSeconds(20);
    private static final Duration LATELY = Duration.ofDays(30);
    static final Duration BROWSER_LIFE = Duration.ofHours(12);
    static final Duration FRESH = Duration.ofMinutes(5);
    private static final int MIN_PASSWORD = 12;

    private final Db db;
    private final Operators operators;
    private final Rules rules;
    private final Costly costly;
    private final SecureRandom random = new SecureRandom();
    /** Stands in for the hash of an unknown name, so that unknown and wrong take the same time. */
    private final String nobody;

    /**
     * What the settings say of signing in.
     *
     * @param secondFactor whether everyone needs a one-time code
     * @param passwordMemory that hashing a password takes, in KiB
     */
    public record Rules(boolean secondFactor, int passwordMemory) {}

    public SigningIn(Db db, Operators operators, Rules rules, Costly costly) {
        this.db = db;
        this.operators = operators;
        this.rules = rules;
        this.nobody = PasswordHash.ofNobody(rules.passwordMemory(), random);
        this.costly = costly;
    }

    /** What somebody says who they are by. */
    public record Credentials(String name, Secret password, Optional<String> code) {}

    /** @param reading whether it may only read */
    public record Purpose(boolean client, Duration life, String label, boolean reading) {}

    /** A sign-in that succeeded; the token is known here only. */
    public record Done(Operators.Operator operator, boolean enrolOnly, Secret token, Instant expiresAt) {}

    /** @throws Refused where it is wrong, or too many tries were; whichever of the three is not said */
    public Done signIn(Credentials said, Purpose purpose, String source, Instant now) {
        Operators.Operator operator = costly.run(Source.counted(source), () -> right(said, source, now));
        boolean enrolOnly = rules.secondFactor() && !operator.hasCode();
        Secret token = LinkToken.generate(random);
        Instant expires = now.plus(purpose.life());
        String kind = purpose.client() ? "client" : "browser";
        db.run(tx -> {
            SignIns.insert(
                    tx,
                    new SignIns.Draft(
                            LinkToken.digest(token),
                            Ids.next(),
                            operator.id(),
                            new SignIns.Purpose(kind, purpose.label(), purpose.reading(), enrolOnly),
                            now,
                            expires,
                            now.plus(FRESH)));
            Journal.append(
                    tx,
                    new By("operator:" + operator.id(), now),
                    "sign-in",
                    "operator",
                    operator.id(),
                    kind + (purpose.reading() ? ", for reading" : ""));
        });
        return new Done(operator, enrolOnly, token, expires);
    }

    /** Proves anew who somebody is; gives until when that counts. */
    Instant fresh(UUID signInId, Credentials said, String source, Instant now) {
        costly.run(Source.counted(source), () -> right(said, source, now));
        Instant until = now.plus(FRESH);
        db.run(tx -> SignIns.fresh(tx, signInId, until));
        return until;
    }

    /** The password of somebody who is signed in, with the same limits. */
    void check(Operators.Operator operator, Secret password, String source, Instant now) {
        costly.run(Source.counted(source), () -> {
            UUID claim = claim(operator.name(), Optional.of(operator), source, now);
            if (!PasswordHash.matches(password, operator.passwordHash())) {
                throw wrong(Optional.of(operator), now);
            }
            db.run(tx -> FailedAttempts.right(tx, claim));
            return claim;
        });
    }

    private Operators.Operator right(Credentials said, String source, Instant now) {
        Optional<Operators.Operator> found =
                db.inTransaction(tx -> Operators.byName(tx, said.name())).filter(o -> !o.disabled());
        UUID claim = claim(said.name(), found, source, now);
        boolean matches = PasswordHash.matches(
                said.password(), found.map(Operators.Operator::passwordHash).orElse(nobody));
        if (found.isEmpty() || !matches) {
            throw wrong(found, now);
        }
        if (found.get().hasCode()) {
            checkCode(found.get(), said.code(), claim, now);
        }
        db.run(tx -> {
            FailedAttempts.right(tx, claim);
            Operators.know(tx, found.get().id(), Source.counted(source), now);
        });
        return found.get();
    }

    private static String account(String name) {
        return "account:" + LinkToken.digest(name).substring(0, 32);
    }

    /** Counts the attempt; refuses it where there were too many. */
    private UUID claim(String name, Optional<Operators.Operator> operator, String from, Instant now) {
        String source = Source.counted(from);
        String account = account(name);
        FailedAttempts.Claimed claimed = db.inTransaction(tx -> {
            boolean known = operator.filter(o -> Operators.isKnown(tx, o.id(), source, now.minus(LATELY)))
                    .isPresent();
            return FailedAttempts.claim(tx, limits(account, source, known), now);
        });
        claimed.exceeded().ifPresent(limit -> {
            boolean slowed = limit.within().equals(SLOW);
            if (!slowed && db.inTransaction(tx -> FailedAttempts.isFirstRefusal(tx, limit, now))) {
                note("sign-in-stopped", operator, now);
            }
            throw Refused.retry(
                    Refused.Kind.TOO_MANY,
                    slowed ? "too many failed sign-ins; try again shortly" : "too many failed sign-ins from here",
                    (int) limit.within().toSeconds());
        });
        return claimed.claim();
    }

    private static List<FailedAttempts.Limit> limits(String account, String source, boolean known) {
        String both = account + ":" + source;
        return known
                ? List.of(new FailedAttempts.Limit(both, MAX_PER_ACCOUNT_AND_SOURCE, SLOW))
                : List.of(
                        new FailedAttempts.Limit(both, MAX_PER_ACCOUNT_AND_SOURCE, WINDOW),
                        new FailedAttempts.Limit(account, MAX_PER_ACCOUNT, WINDOW),
                        new FailedAttempts.Limit("source:" + source, MAX_PER_SOURCE, WINDOW));
    }

    private Refused wrong(Optional<Operators.Operator> operator, Instant now) {
        note("sign-in-failed", operator, now);
        return new Refused(Refused.Kind.WRONG_SIGN_IN, "name, password or code is wrong");
    }

    /** An unknown name is not written down: it may be a password in the wrong field. */
    private void note(String what, Optional<Operators.Operator> operator, Instant now) {
        db.run(tx -> Journal.append(
                tx,
                new By("stranger", now),
                what,
                "operator",
                operator.map(o -> o.id().toString()).orElse("unknown"),
                ""));
    }

    private void checkCode(Operators.Operator operator, Optional<String> code, UUID claim, Instant now) {
        if (code.isEmpty()) {
            db.run(tx -> FailedAttempts.right(tx, claim)); // the password was right; the code is asked for next
            throw new Refused(Refused.Kind.CODE_NEEDED, "this account has a second factor");
        }
        boolean counts = db.inTransaction(tx -> {
            OptionalLong step = step(operators.seed(tx, operator.id()).orElseThrow(), code.get(), now);
            return step.isPresent() && Operators.useCode(tx, operator.id(), step.getAsLong());
        });
        if (!counts) {
            throw wrong(Optional.of(operator), now);
        }
    }

    /** The first code of a new seed; from now on a code is asked for at every sign-in. */
    boolean confirms(Tx tx, UUID operatorId, Secret seed, String code, Instant now) {
        OptionalLong step = step(seed, code, now);
        return step.isPresent() && Operators.useCode(tx, operatorId, step.getAsLong());
    }

    /** The time step (RFC 6238 §4.2) that a code is of, with one step of tolerance either way. */
    static OptionalLong step(Secret seed, String code, Instant now) {
        if (!code.matches("[0-9]{6}")) {
            return OptionalLong.empty();
        }
        try {
            TimeBasedOneTimePasswordGenerator generator = new TimeBasedOneTimePasswordGenerator();
            SecretKeySpec key = new SecretKeySpec(seed.reveal(RevealSecret.TO_SIGN_IN), generator.getAlgorithm());
            long current = now.toEpochMilli() / generator.getTimeStep().toMillis();
            long right = -1;
            for (long step = current - 1; step <= current + 1; step++) {
                String expected = generator.generateOneTimePasswordString(
                        key, Instant.ofEpochMilli(step * generator.getTimeStep().toMillis()));
                if (MessageDigest.isEqual(expected.getBytes(), code.getBytes())) {
                    right = step;
                }
            }
            return right < 0 ? OptionalLong.empty() : OptionalLong.of(right);
        } catch (InvalidKeyException e) {
            throw new IllegalStateException("a seed is a key", e);
        }
    }

    /** The hash of a password that is good enough. */
    String hash(String field, Secret password, String source) {
        if (password == null || password.length() < MIN_PASSWORD || password.length() > 1_000) {
            throw new Refused(Refused.Kind.MALFORMED, field + " has at least " + MIN_PASSWORD + " characters", field);
        }
        return costly.run(Source.counted(source), () -> PasswordHash.make(password, rules.passwordMemory(), random));
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
                    new Operators.Operator(
                            id,
                            "owner",
                            "owner",
                            PasswordHash.make(password, rules.passwordMemory(), random),
                            true,
                            false,
                            false,
                            1),
                    now);
            Journal.append(tx, By.tender(now), "operator-added", "operator", id, "first owner");
            return true;
        });
        return added ? Optional.of(password) : Optional.empty();
    }

    /**
     * For an owner who lost password or second factor and has nobody to ask: whoever may run programs as the service's own
     * user may give the account a first password again.
     */
    public Optional<Secret> recover(String name, Instant now) {
        Secret password = tender.core.credential.Passphrase.generate(random);
        String hash = PasswordHash.make(password, rules.passwordMemory(), random);
        return db.inTransaction(tx -> Operators.byName(tx, name).map(o -> {
            operators.resetPassword(tx, o.id(), hash);
            Operators.resetCode(tx, o.id());
            Operators.disable(tx, o.id(), Optional.empty());
            SignIns.deleteOthers(tx, o.id(), Optional.empty());
            Journal.append(tx, By.tender(now), "operator-recovered", "operator", o.id(), "at the machine");
            return password;
        }));
    }
}
