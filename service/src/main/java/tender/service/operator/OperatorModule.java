package tender.service.operator;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.credential.Secret;
import tender.service.event.LiveEvents;
import tender.service.http.Costly;
import tender.service.http.Gate;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.store.event.Events;
import tender.store.jdbc.Tx;
import tender.store.operator.FailedAttempts;
import tender.store.operator.Operators;
import tender.store.operator.SignIns;

/** Operators, and who is signed in. */
public final class OperatorModule implements NodeModule {
    private final Node node;
    private final Gate gate;
    private final Runnable firstPasswordChanged;
    private final Operators operators;
    private final SigningIn signingIn;

    public OperatorModule(Node node, Gate gate, Runnable firstPasswordChanged) {
        this.node = node;
        this.gate = gate;
        this.firstPasswordChanged = firstPasswordChanged;
        this.operators = new Operators(node.cipher());
        this.signingIn = new SigningIn(
                node.db(),
                operators,
                new SigningIn.Rules(
                        node.settings().secondFactor(), node.settings().passwordMemory()),
                new Costly());
    }

    /** The first owner's password where there was nobody yet. */
    public Optional<Secret> firstOwner() {
        return signingIn.firstOwner(node.clock().instant());
    }

    @Override
    public List<Route> routes() {
        return Routes.of(
                new OperatorRoutes(node.db(), operators, signingIn, gate, firstPasswordChanged),
                new AccountRoutes(node.db(), operators, signingIn));
    }

    @Override
    public void upkeep(Tx tx, Instant now) {
        FailedAttempts.purge(tx, now.minus(Duration.ofHours(25))); // a link's tries count for a day
        SignIns.purge(tx, now).forEach(id -> Events.say(tx, LiveEvents.SIGNED_OUT, id));
        Operators.forgetSources(tx, now.minus(Duration.ofDays(30)));
    }
}
