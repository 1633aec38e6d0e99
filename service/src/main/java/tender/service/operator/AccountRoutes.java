package tender.service.operator;

import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.function.BiConsumer;
import tender.api.OperatorApi;
import tender.api.ProblemCode;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.Journal;
import tender.store.operator.Operators;
import tender.store.operator.SignIns;

/** What an owner does to others' accounts. There is always an owner left who may sign in. */
final class AccountRoutes implements Routes {
    private final Db db;
    private final Operators operators;
    private final SigningIn signingIn;

    AccountRoutes(Db db, Operators operators, SigningIn signingIn) {
        this.db = db;
        this.operators = operators;
        this.signingIn = signingIn;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.post(
                                "/operators/{name}/disable",
                                Role.OWNERS,
                                "Let an account sign in no more; its sign-ins and tokens end",
                                null,
                                OperatorApi.Operator.class,
                                call -> change(call, "operator-disabled", "", (tx, o) -> {
                                    keepAnOwner(tx, o);
                                    Operators.disable(tx, o.id(), Optional.of(call.now()));
                                    end(tx, o.id());
                                }))
                        .afresh(),
                Route.post(
                                "/operators/{name}/enable",
                                Role.OWNERS,
                                "Let a disabled account sign in again",
                                null,
                                OperatorApi.Operator.class,
                                call -> change(
                                        call,
                                        "operator-enabled",
                                        "",
                                        (tx, o) -> Operators.disable(tx, o.id(), Optional.empty())))
                        .afresh(),
                Route.post(
                                "/operators/{name}/role",
                                Role.OWNERS,
                                "Give an account another role; its sign-ins and tokens end",
                                OperatorApi.SetRole.class,
                                OperatorApi.Operator.class,
                                this::role)
                        .afresh(),
                Route.post(
                                "/operators/{name}/password",
                                Role.OWNERS,
                                "Give an account a first password again, to be changed at the next sign-in; its sign-ins and tokens end",
                                OperatorApi.ResetPassword.class,
                                OperatorApi.Operator.class,
                                this::password)
                        .afresh(),
                Route.post(
                                "/operators/{name}/reset-code",
                                Role.OWNERS,
                                "Take an account's second factor off, as after a lost phone; its sign-ins and tokens end",
                                null,
                                OperatorApi.Operator.class,
                                call -> change(call, "second-factor-reset", "", (tx, o) -> {
                                    Operators.resetCode(tx, o.id());
                                    end(tx, o.id());
                                }))
                        .afresh(),
                Route.page(
                        "/operators/{name}/tokens",
                        Role.OWNERS,
                        "An account's sign-ins and tokens",
                        OperatorApi.Token.class,
                        this::tokens),
                Route.post(
                                "/operators/{name}/end-tokens",
                                Role.OWNERS,
                                "End all sign-ins and tokens of an account",
                                null,
                                OperatorApi.Operator.class,
                                call -> change(call, "tokens-ended", "", (tx, o) -> end(tx, o.id())))
                        .afresh());
    }

    private static void end(Tx tx, UUID operatorId) {
        OperatorRoutes.ended(tx, SignIns.deleteOthers(tx, operatorId, Optional.empty()));
    }

    private static void keepAnOwner(Tx tx, Operators.Operator o) {
        if (Operators.owners(tx).equals(List.of(o.id()))) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT, o.name() + " is the last owner who may sign in; make another one first");
        }
    }

    private Operators.Operator find(Tx tx, Call call) {
        return Operators.byName(tx, call.path("name")).orElseThrow(() -> ApiFailure.notFound("operator"));
    }

    private Answer change(Call call, String action, String detail, BiConsumer<Tx, Operators.Operator> work) {
        return Answer.ok(db.inTransaction(tx -> {
            Operators.Operator o = find(tx, call);
            work.accept(tx, o);
            Journal.append(tx, call.by(), action, "operator", o.id(), detail);
            return OperatorRoutes.render(find(tx, call), false);
        }));
    }

    private Answer role(Call call) {
        String role =
                Fields.required("role", call.body(OperatorApi.SetRole.class).role());
        if (Role.ALL.stream().noneMatch(r -> r.word().equals(role))) {
            throw new ApiFailure(ProblemCode.MALFORMED, "role is owner, operator, auditor, staff or vantage", "role");
        }
        return change(call, "operator-role", role, (tx, o) -> {
            if (!role.equals(Role.OWNER.word())) {
                keepAnOwner(tx, o);
            }
            Operators.setRole(tx, o.id(), role);
            end(tx, o.id());
        });
    }

    private Answer password(Call call) {
        String hash = signingIn.hash(
                "password", call.body(OperatorApi.ResetPassword.class).password(), call.source());
        return change(call, "password-reset", "", (tx, o) -> {
            operators.resetPassword(tx, o.id(), hash);
            end(tx, o.id());
        });
    }

    private Answer tokens(Call call) {
        return Answer.ok(OperatorRoutes.tokensOf(
                db.inTransaction(tx -> SignIns.of(tx, find(tx, call).id(), call.now())), call));
    }
}
