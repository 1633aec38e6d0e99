package tender.service.operator;

import java.security.SecureRandom;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.bouncycastle.util.encoders.Base32;
import tender.api.OperatorApi;
import tender.api.Page;
import tender.api.ProblemCode;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.service.event.LiveEvents;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Gate;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.Journal;
import tender.store.operator.Operators;
import tender.store.operator.SignIns;

/** Sign-in, password, second factor, tokens and accounts. */
final class OperatorRoutes implements Routes {
    private static final int SEED_BYTES = 20;
    private static final int TOKEN_DAYS = 30;

    private final Db db;
    private final Operators operators;
    private final SigningIn signingIn;
    private final Gate gate;
    private final Runnable firstPasswordChanged;
    private final SecureRandom random = new SecureRandom();

    /** @param firstPasswordChanged called when an account's first password is no longer in use */
    OperatorRoutes(Db db, Operators operators, SigningIn signingIn, Gate gate, Runnable firstPasswordChanged) {
        this.firstPasswordChanged = firstPasswordChanged;
        this.db = db;
        this.operators = operators;
        this.signingIn = signingIn;
        this.gate = gate;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.post(
                        "/sign-in",
                        Route.OPEN,
                        "Sign in",
                        OperatorApi.SignIn.class,
                        OperatorApi.SignedIn.class,
                        this::signIn),
                Route.post("/sign-out", Role.ALL, "End this sign-in", null, null, this::signOut),
                Route.get(
                        "/me",
                        Role.ALL,
                        "Who is signed in",
                        OperatorApi.Operator.class,
                        call -> Answer.ok(render(me(call), call.caller().enrolOnly()))),
                Route.post(
                        "/me/fresh",
                        Role.ALL,
                        "Prove anew who one is, for what needs a fresh sign-in; counts for five minutes",
                        OperatorApi.Fresh.class,
                        OperatorApi.FreshUntil.class,
                        this::fresh),
                Route.post(
                        "/me/password",
                        Role.ALL,
                        "Change one's own password; other sign-ins end",
                        OperatorApi.ChangePassword.class,
                        null,
                        this::changePassword),
                Route.post(
                        "/me/code",
                        Role.ALL,
                        "Make a seed for one-time codes, shown once",
                        null,
                        OperatorApi.CodeSeed.class,
                        this::makeSeed),
                Route.post(
                        "/me/code/confirm",
                        Role.ALL,
                        "Turn the second factor on with a first code",
                        OperatorApi.ConfirmCode.class,
                        null,
                        this::confirmSeed),
                Route.page(
                        "/me/tokens",
                        Role.ALL,
                        "One's own sign-ins and client tokens",
                        OperatorApi.Token.class,
                        this::tokens),
                Route.delete("/me/tokens/{id}", Role.ALL, "Revoke a sign-in or token", this::revoke),
                Route.page(
                        "/operators",
                        Role.READERS,
                        "Accounts",
                        OperatorApi.Operator.class,
                        call -> Answer.ok(new Page<>(
                                db.inTransaction(operators::list).stream()
                                        .map(o -> render(o, false))
                                        .toList(),
                                Optional.empty()))),
                Route.post(
                                "/operators",
                                Role.OWNERS,
                                "Add an account; its password is changed at first sign-in",
                                OperatorApi.AddOperator.class,
                                OperatorApi.Operator.class,
                                this::add)
                        .afresh());
    }

    static OperatorApi.Operator render(Operators.Operator o, boolean enrolNeeded) {
        return new OperatorApi.Operator(o.name(), o.role(), o.mustChange(), o.hasCode(), enrolNeeded, o.disabled());
    }

    private Operators.Operator me(Call call) {
        return db.inTransaction(tx -> Operators.byName(tx, call.caller().name()))
                .orElseThrow(() -> ApiFailure.notFound("operator"));
    }

    private static SigningIn.Purpose purpose(OperatorApi.SignIn request, boolean client) {
        int days = Fields.range("days", request.days().orElse(TOKEN_DAYS), 1, TOKEN_DAYS);
        return new SigningIn.Purpose(
                client,
                client ? Duration.ofDays(days) : SigningIn.BROWSER_LIFE,
                request.label().map(l -> Fields.title("label", l)).orElse(client ? "client" : "browser"),
                isReading(request.scope()));
    }

    private Answer signIn(Call call) {
        OperatorApi.SignIn request = call.body(OperatorApi.SignIn.class);
        boolean client = request.forClient().orElse(false);
        SigningIn.Done done = signingIn.signIn(
                new SigningIn.Credentials(
                        Fields.required("name", request.name()),
                        Fields.given("password", request.password()),
                        request.code()),
                purpose(request, client),
                call.source(),
                call.now());
        if (!client) {
            int life = (int) Duration.between(call.now(), done.expiresAt()).toSeconds();
            call.cookie(gate.cookieName(), done.token().revealText(RevealSecret.TO_HAND_OUT), gate.isHttps(), life);
        }
        return Answer.ok(new OperatorApi.SignedIn(
                render(done.operator(), done.enrolOnly()),
                client ? Optional.of(done.token()) : Optional.empty(),
                done.expiresAt()));
    }

    private static boolean isReading(Optional<String> scope) {
        return switch (scope.orElse("operate")) {
            case "operate" -> false;
            case "read" -> true;
            default -> throw new MalformedException("scope", "scope", "read or operate");
        };
    }

    private Answer fresh(Call call) {
        OperatorApi.Fresh request = call.body(OperatorApi.Fresh.class);
        SigningIn.Credentials said = new SigningIn.Credentials(
                call.caller().name(), Fields.given("password", request.password()), request.code());
        return Answer.ok(
                new OperatorApi.FreshUntil(signingIn.fresh(call.caller().signInId(), said, call.source(), call.now())));
    }

    private Answer signOut(Call call) {
        db.run(tx -> {
            SignIns.delete(tx, call.caller().signInId(), call.caller().operatorId());
            Events.say(tx, LiveEvents.SIGNED_OUT, call.caller().signInId());
            Journal.append(tx, call.by(), "sign-out", "operator", call.caller().operatorId(), "");
        });
        call.cookie(gate.cookieName(), "", gate.isHttps(), 0);
        return Answer.done();
    }

    private Answer changePassword(Call call) {
        OperatorApi.ChangePassword request = call.body(OperatorApi.ChangePassword.class);
        Operators.Operator me = me(call);
        signingIn.check(me, Fields.given("old", request.old()), call.source(), call.now());
        if (request.old().equals(request.fresh())) {
            throw new ApiFailure(ProblemCode.MALFORMED, "fresh is the old password again", "fresh");
        }
        String hash = signingIn.hash("fresh", request.fresh(), call.source());
        db.run(tx -> {
            operators.setPassword(tx, me.id(), hash);
            ended(
                    tx,
                    SignIns.deleteOthers(tx, me.id(), Optional.of(call.caller().signInId())));
            Journal.append(tx, call.by(), "password-changed", "operator", me.id(), "");
        });
        if (me.mustChange()) {
            firstPasswordChanged.run();
        }
        return Answer.done();
    }

    /** Streams of sign-ins that ended are closed on every node. */
    static void ended(Tx tx, List<UUID> signIns) {
        signIns.forEach(id -> Events.say(tx, LiveEvents.SIGNED_OUT, id));
    }

    private Answer makeSeed(Call call) {
        if (!call.caller().enrolOnly()) {
            call.needFresh();
        }
        byte[] bytes = new byte[SEED_BYTES];
        random.nextBytes(bytes);
        Operators.Operator me = me(call);
        if (me.hasCode()) {
            throw new ApiFailure(ProblemCode.CONFLICT, "the second factor is on already");
        }
        db.run(tx -> operators.setSeed(tx, me.id(), Secret.of(bytes), false));
        String seed = Base32.toBase32String(bytes).replace("=", "");
        return Answer.created(new OperatorApi.CodeSeed(
                Secret.of(seed),
                Secret.of("otpauth://totp/Tender:" + me.name() + "?secret=" + seed + "&issuer=Tender")));
    }

    private Answer confirmSeed(Call call) {
        Operators.Operator me = me(call);
        Secret seed = db.inTransaction(tx -> operators.seed(tx, me.id()))
                .orElseThrow(() -> ApiFailure.notFound("seed; make one first"));
        String code =
                Fields.required("code", call.body(OperatorApi.ConfirmCode.class).code());
        if (!db.inTransaction(tx -> signingIn.confirms(tx, me.id(), seed, code, call.now()))) {
            throw new ApiFailure(
                    ProblemCode.WRONG_SIGN_IN, "the code does not fit the seed; check the device's clock", "code");
        }
        db.run(tx -> {
            operators.setSeed(tx, me.id(), seed, true);
            SignIns.enrolled(tx, call.caller().signInId());
            Journal.append(tx, call.by(), "second-factor-on", "operator", me.id(), "");
        });
        return Answer.done();
    }

    private Answer tokens(Call call) {
        return Answer.ok(
                tokensOf(db.inTransaction(tx -> SignIns.of(tx, call.caller().operatorId(), call.now())), call));
    }

    /** An account's sign-ins and tokens as they are listed. */
    static Page<OperatorApi.Token> tokensOf(List<SignIns.SignIn> all, Call call) {
        return new Page<>(
                all.stream()
                        .map(s -> new OperatorApi.Token(
                                s.id().toString(),
                                s.kind(),
                                s.label(),
                                s.readOnly() ? "read" : "operate",
                                s.createdAt(),
                                s.expiresAt(),
                                s.id().equals(call.caller().signInId())))
                        .toList(),
                Optional.empty());
    }

    private Answer revoke(Call call) {
        UUID id = call.id();
        db.run(tx -> {
            if (SignIns.delete(tx, id, call.caller().operatorId()) == 0) {
                throw ApiFailure.notFound("sign-in of yours");
            }
            Events.say(tx, LiveEvents.SIGNED_OUT, id);
            Journal.append(
                    tx, call.by(), "token-revoked", "operator", call.caller().operatorId(), "");
        });
        return Answer.done();
    }

    private Answer add(Call call) {
        OperatorApi.AddOperator request = call.body(OperatorApi.AddOperator.class);
        String role = Fields.required("role", request.role());
        if (Role.ALL.stream().noneMatch(r -> r.word().equals(role))) {
            throw new ApiFailure(ProblemCode.MALFORMED, "role is owner, operator, auditor, staff or vantage", "role");
        }
        Operators.Operator added = new Operators.Operator(
                Ids.next(),
                Fields.name("name", request.name()),
                role,
                signingIn.hash("password", request.password(), call.source()),
                true,
                false,
                false,
                1);
        db.run(tx -> {
            operators.insert(tx, added, call.now());
            Journal.append(tx, call.by(), "operator-added", "operator", added.id(), role);
        });
        return Answer.created(render(added, false));
    }
}
