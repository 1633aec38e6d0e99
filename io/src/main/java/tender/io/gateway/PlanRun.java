package tender.io.gateway;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.wire.MalformedException;
import tender.io.gateway.GatewayPlan.Part;
import tender.io.gateway.ManagementConnection.Hold;

/** Carries a plan out, part by part; one that fails stops no other, unless the gateway has gone away. */
final class PlanRun {
    /** How a kind of gateway writes each part. */
    interface Writer {
        void settings(GatewayPlan.Settings settings, Hold hold);

        void accounts(List<ManagementConnection.Account> put, List<String> drop, Hold hold);

        void reload(GatewayPlan.Reload reload);

        Applied.Peers peers(GatewayPlan.ListenerPeers peers, Hold hold);

        void list(GatewayPlan.ListFile file, Hold hold);
    }

    private final Writer writer;
    private final Hold hold;
    private final Map<Part, RuntimeException> failures = new EnumMap<>(Part.class);
    private Optional<GatewayFailure> gone = Optional.empty();

    private PlanRun(Writer writer, Hold hold) {
        this.writer = writer;
        this.hold = hold;
    }

    static Applied run(GatewayPlan plan, Hold hold, Writer writer) {
        return new PlanRun(writer, hold).run(plan);
    }

    private Applied run(GatewayPlan plan) {
        plan.settings().ifPresent(s -> part(Part.SETTINGS, () -> writer.settings(s, hold)));
        if (!plan.put().isEmpty() || !plan.drop().isEmpty()) {
            part(Part.ACCOUNTS, () -> writer.accounts(plan.put(), plan.drop(), hold));
        }
        plan.settings()
                .filter(s -> !failures.containsKey(Part.SETTINGS))
                .ifPresent(s -> part(Part.SETTINGS, () -> writer.reload(s.reload())));
        List<Applied.Peers> peers = new ArrayList<>();
        plan.peers().forEach(p -> part(Part.PEERS, () -> peers.add(writer.peers(p, hold))));
        plan.lists().forEach(l -> part(Part.LISTS, () -> writer.list(l, hold)));
        return new Applied(peers, failures);
    }

    private void part(Part part, Runnable work) {
        if (gone.isPresent()) {
            failures.putIfAbsent(part, gone.get());
            return;
        }
        try {
            work.run();
        } catch (GatewayFailure e) {
            failures.putIfAbsent(part, e);
            gone = Optional.of(e).filter(f -> f.kind() == GatewayFailure.Kind.UNREACHABLE);
        } catch (MalformedException e) {
            failures.putIfAbsent(part, e);
        }
    }
}
