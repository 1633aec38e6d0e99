package tender.service.trial;

import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.api.ProfileApi;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobRoutes;
import tender.service.job.JobWaits;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.journal.Journal;
import tender.store.profile.Instructions;

/** Saying that what was to be done by hand at a gateway is done. */
final class InstructionRoutes implements Routes {
    private final Db db;
    private final JobWaits waits;

    InstructionRoutes(Db db, JobWaits waits) {
        this.db = db;
        this.waits = waits;
    }

    @Override
    public List<Route> routes() {
        return List.of(Route.post(
                "/profiles/{id}/instruction/done",
                Role.WRITERS,
                "Say that what was to be done by hand is done; Tender tries it, and asks again where it is not",
                null,
                ProfileApi.HandChecked.class,
                this::done));
    }

    private Answer done(Call call) {
        UUID id = call.id();
        Instructions.Instruction asked = db.inTransaction(tx -> Instructions.of(tx, id))
                .orElseThrow(() -> Refused.notFound("instruction: nothing is to be done by hand for it"));
        UUID job = db.inTransaction(tx -> {
            Instructions.claim(tx, id, call.by());
            Journal.append(
                    tx,
                    call.by(),
                    "instruction-done",
                    "profile",
                    id,
                    asked.kind().word());
            return InstructionCheck.order(tx, id);
        });
        return JobRoutes.whenDone(waits, job, asked.label(), () -> Answer.ok(checked(id)));
    }

    private ProfileApi.HandChecked checked(UUID id) {
        Optional<Instructions.Instruction> left = db.inTransaction(tx -> Instructions.of(tx, id));
        return new ProfileApi.HandChecked(
                left.isEmpty(), left.flatMap(Instructions.Instruction::found).orElse(""));
    }
}
