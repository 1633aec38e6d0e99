package tender.service.instruction;

import java.util.List;
import tender.api.InstructionApi;
import tender.store.jdbc.Tx;

/** Instructions as the API shows them. */
public final class InstructionView {
    private InstructionView() {}

    /** The oldest that are open. */
    public static List<InstructionApi.Instruction> oldest(OpenInstructions open, Tx tx, int limit) {
        return open.all(tx, limit).stream().map(InstructionView::of).toList();
    }

    static InstructionApi.Instruction of(OpenInstruction i) {
        return new InstructionApi.Instruction(
                i.id().toString(),
                i.kind(),
                i.gatewayId().toString(),
                i.gateway(),
                i.profile().map(p -> p.profileId().toString()),
                i.subject(),
                i.words(),
                i.orderedBy(),
                i.askedAt(),
                i.asked().map(a -> a.of()),
                i.asked().map(a -> a.at()),
                i.said());
    }

    static InstructionApi.Shown of(OpenInstruction i, List<InstructionTexts.Text> texts) {
        return new InstructionApi.Shown(
                of(i),
                i.what(),
                i.steps().stream()
                        .flatMap(s -> s.values().entrySet().stream())
                        .map(e -> new InstructionApi.Value(e.getKey(), e.getValue()))
                        .toList(),
                texts.stream()
                        .map(t -> new InstructionApi.Text(t.label(), t.text()))
                        .toList(),
                i.why(),
                i.cuts(),
                i.check());
    }
}
