package tender.service.instruction;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.HandSteps;
import tender.core.office.Restart;
import tender.service.office.OfficeDocuments;
import tender.store.change.HandChanges;
import tender.store.profile.Asked;
import tender.store.profile.Instructions;

/**
 * Something that somebody has to do by hand at a gateway.
 *
 * @param id of the profile or of the change that it is about
 * @param profile empty where it is a change of the gateway's settings
 * @param subject the profile's label, or the change in words
 * @param words what to do, and what the last trial found
 * @param orderedBy who wants a change; empty for a profile
 * @param said whether somebody says that it is done
 * @param steps what to do, one after the other
 * @param check how Tender finds out whether it is done
 */
record OpenInstruction(
        UUID id,
        String kind,
        UUID gatewayId,
        String gateway,
        Optional<Instructions.Instruction> profile,
        String subject,
        String words,
        Optional<String> orderedBy,
        Instant askedAt,
        Optional<Asked> asked,
        boolean said,
        List<HandSteps> steps,
        String why,
        String cuts,
        String check) {
    static OpenInstruction of(Instructions.Instruction i) {
        return new OpenInstruction(
                i.profileId(),
                i.kind().word(),
                i.gatewayId(),
                i.gateway(),
                Optional.of(i),
                i.label(),
                i.words(),
                Optional.empty(),
                i.askedAt(),
                i.asked(),
                i.claimed().isPresent(),
                List.of(HandSteps.of(i.kind(), i.listener(), i.what())),
                i.label() + (i.kind().closes() ? " is withdrawn: it must not be let in any more" : " is to be let in"),
                i.kind().cuts(),
                i.kind().check());
    }

    /** @param manual whether the gateway is managed by hand; others are read */
    static OpenInstruction of(HandChanges.HandChange c, boolean manual) {
        List<Change> changes = OfficeDocuments.CHANGES.read(c.changes());
        Device before = OfficeDocuments.DEVICE.read(c.before());
        Restart restart = changes.stream().map(x -> x.restart(before)).reduce(Restart.NONE, Restart::or);
        return new OpenInstruction(
                c.id(),
                "change",
                c.gatewayId(),
                c.gateway(),
                Optional.empty(),
                c.words(),
                "to be changed at " + c.gateway() + ": " + c.words()
                        + c.found().map(f -> "; " + f).orElse(""),
                Optional.of(c.orderedBy()),
                c.orderedAt(),
                c.asked(),
                c.claimed().isPresent(),
                changes.stream().map(HandSteps::of).toList(),
                c.why(),
                restart.words(),
                manual
                        ? "Tender tries the listeners that it is about. What no trial can show counts as said."
                        : "Tender reads the gateway: the change must show there.");
    }

    /** What to do, in one paragraph. */
    String what() {
        return String.join(" ", steps.stream().map(HandSteps::what).toList());
    }
}
