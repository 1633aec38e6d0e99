package tender.service.instruction;

import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Stream;
import tender.store.change.HandChanges;
import tender.store.jdbc.Tx;
import tender.store.office.Gateways;
import tender.store.profile.Instructions;

/** Everything that is to be done by hand at gateways, oldest first. */
public final class OpenInstructions {
    private static final Comparator<OpenInstruction> OLDEST =
            Comparator.comparing(OpenInstruction::askedAt).thenComparing(OpenInstruction::subject);

    private final Gateways gateways;

    public OpenInstructions(Gateways gateways) {
        this.gateways = gateways;
    }

    List<OpenInstruction> all(Tx tx, int limit) {
        return merged(tx, Instructions.all(tx, limit), HandChanges.all(tx, limit)).stream()
                .limit(limit)
                .toList();
    }

    List<OpenInstruction> at(Tx tx, UUID gatewayId) {
        return merged(tx, Instructions.atGateway(tx, gatewayId), HandChanges.atGateway(tx, gatewayId));
    }

    Optional<OpenInstruction> byId(Tx tx, UUID id) {
        return Instructions.of(tx, id)
                .map(OpenInstruction::of)
                .or(() -> HandChanges.byId(tx, id)
                        .flatMap(c -> merged(tx, List.of(), List.of(c)).stream().findFirst()));
    }

    private List<OpenInstruction> merged(
            Tx tx, List<Instructions.Instruction> ofProfiles, List<HandChanges.HandChange> changes) {
        Set<UUID> manual = new HashSet<>();
        gateways
                .these(
                        tx,
                        changes.stream().map(HandChanges.HandChange::gatewayId).toList())
                .stream()
                .filter(Gateways.Gateway::isManual)
                .forEach(g -> manual.add(g.id()));
        return Stream.concat(
                        ofProfiles.stream().map(OpenInstruction::of),
                        changes.stream().map(c -> OpenInstruction.of(c, manual.contains(c.gatewayId()))))
                .sorted(OLDEST)
                .toList();
    }
}
