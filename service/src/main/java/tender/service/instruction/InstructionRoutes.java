package tender.service.instruction;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.api.InstructionApi;
import tender.api.Page;
import tender.core.credential.Secret;
import tender.core.sheet.InstructionSheet;
import tender.core.wire.Fields;
import tender.service.alert.OutgoingMail;
import tender.service.gateway.ManualGateways;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobRoutes;
import tender.service.job.JobWaits;
import tender.service.office.OfficeDocuments;
import tender.service.profile.SheetPdf;
import tender.service.profile.WantedFiles;
import tender.service.refusal.Refused;
import tender.service.trial.InstructionCheck;
import tender.service.trial.RefusalProof;
import tender.store.change.ChangeState;
import tender.store.change.DeviceChanges;
import tender.store.change.HandChanges;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.profile.FileRequests;
import tender.store.profile.Instructions;

/** What is to be done by hand at gateways: listed, shown, sent, printed, and said to be done. */
final class InstructionRoutes implements Routes {
    private static final int MOST = 1_000;

    private final Db db;
    private final Gateways gateways;
    private final ManualGateways manual;
    private final OpenInstructions open;
    private final InstructionTexts texts;
    private final RefusalProof refusals;
    private final OutgoingMail mail;
    private final JobWaits waits;

    InstructionRoutes(
            Db db,
            Gateways gateways,
            ManualGateways manual,
            OpenInstructions open,
            InstructionTexts texts,
            RefusalProof refusals,
            OutgoingMail mail,
            JobWaits waits) {
        this.refusals = refusals;
        this.mail = mail;
        this.db = db;
        this.gateways = gateways;
        this.manual = manual;
        this.open = open;
        this.texts = texts;
        this.waits = waits;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/instructions",
                        Role.READERS,
                        "What somebody has to do by hand at gateways, oldest first; ?gateway= an id",
                        InstructionApi.Instruction.class,
                        this::list),
                Route.get(
                        "/instructions/{id}",
                        Role.READERS,
                        "One instruction, by the id of its profile or of its change",
                        InstructionApi.Instruction.class,
                        call -> Answer.ok(InstructionView.of(db.inTransaction(tx -> find(tx, call.id()))))),
                Route.post(
                                "/instructions/{id}/show",
                                Role.WRITERS,
                                "An instruction with the values to enter and the texts to copy, which may hold a secret",
                                null,
                                InstructionApi.Shown.class,
                                this::show)
                        .afresh(),
                Route.post(
                        "/instructions/{id}/done",
                        Role.WRITERS,
                        "Say that an instruction is carried out; Tender checks it, and it stays open where it is not",
                        null,
                        InstructionApi.Checked.class,
                        this::done),
                Route.post(
                        "/instructions/{id}/cancel",
                        Role.WRITERS,
                        "Cancel a change that was to be made by hand; what was entered for it is forgotten",
                        null,
                        null,
                        this::cancel),
                Route.post(
                        "/gateways/{id}/instructions/send",
                        Role.WRITERS,
                        "Send all that is to be done by hand at a gateway by mail, without secrets",
                        InstructionApi.Send.class,
                        InstructionApi.Sent.class,
                        this::send),
                Route.post(
                                "/gateways/{id}/instructions/sheet",
                                Role.WRITERS,
                                "All that is to be done by hand at a gateway as a PDF to print, with the texts to copy, which may hold secrets",
                                null,
                                null,
                                this::sheet)
                        .afresh());
    }

    private Answer list(Call call) {
        Optional<UUID> gateway = call.query("gateway").map(t -> Fields.parse("gateway", t, UUID::fromString));
        List<OpenInstruction> all =
                db.inTransaction(tx -> gateway.map(id -> open.at(tx, id)).orElseGet(() -> open.all(tx, MOST)));
        return Answer.ok(new Page<>(all.stream().map(InstructionView::of).toList(), Optional.empty()));
    }

    private OpenInstruction find(Tx tx, UUID id) {
        return open.byId(tx, id)
                .orElseThrow(() -> Refused.notFound("instruction: nothing of this is to be done by hand"));
    }

    private Answer show(Call call) {
        return Answer.ok(db.inTransaction(tx -> {
            OpenInstruction i = find(tx, call.id());
            List<InstructionTexts.Text> copy = texts.of(tx, i);
            shown(tx, call, i);
            return InstructionView.of(i, copy);
        }));
    }

    /** A text to copy may hold a secret. */
    private static void shown(Tx tx, Call call, OpenInstruction i) {
        String kind = i.profile().isPresent() ? "profile" : "gateway";
        UUID about = i.profile().isPresent() ? i.id() : i.gatewayId();
        Journal.append(tx, call.by(), "instruction-shown", kind, about, i.kind());
    }

    private Answer done(Call call) {
        UUID id = call.id();
        OpenInstruction i = db.inTransaction(tx -> find(tx, id));
        Optional<String> untriable = i.profile().flatMap(p -> refusals.untriable(id));
        UUID job = db.inTransaction(tx -> i.profile().isPresent() ? ofProfile(tx, i, call) : ofChange(tx, id, call));
        return JobRoutes.whenDone(waits, job, i.subject(), () -> Answer.ok(checked(id, untriable)));
    }

    private static UUID ofProfile(Tx tx, OpenInstruction i, Call call) {
        Instructions.claim(tx, i.id(), call.by());
        Journal.append(tx, call.by(), "instruction-done", "profile", i.id(), i.kind());
        return InstructionCheck.order(tx, i.id());
    }

    /** Of a gateway managed by hand it is known from now on, as entered by whoever says so: trials need to know it. */
    private UUID ofChange(Tx tx, UUID id, Call call) {
        HandChanges.HandChange c = HandChanges.byId(tx, id)
                .orElseThrow(() -> Refused.notFound("instruction: it is done or cancelled by now"));
        boolean byHand = gateways.byId(tx, c.gatewayId())
                .filter(Gateways.Gateway::isManual)
                .isPresent();
        if (byHand && !c.entered()) {
            manual.made(tx, c.gatewayId(), OfficeDocuments.CHANGES.read(c.changes()), call.by());
        }
        HandChanges.claim(tx, id, byHand, call.by());
        Journal.append(tx, call.by(), "instruction-done", "gateway", c.gatewayId(), c.words());
        return HandChangeCheck.order(tx, id);
    }

    /** @param untriable why no trial can show it, so that it counts as said */
    private InstructionApi.Checked checked(UUID id, Optional<String> untriable) {
        return db.inTransaction(tx -> {
            Optional<String> ofProfile =
                    Instructions.of(tx, id).map(i -> i.found().orElse(""));
            Optional<String> ofChange =
                    HandChanges.byId(tx, id).map(c -> c.found().orElse(""));
            Optional<String> left = ofProfile.or(() -> ofChange);
            return new InstructionApi.Checked(
                    left.isEmpty(),
                    left.or(() -> DeviceChanges.byId(tx, id).map(DeviceChanges.DeviceChange::note))
                            .or(() -> untriable.map(why -> "it counts as said; no trial can show it: " + why))
                            .orElse(""));
        });
    }

    private Answer cancel(Call call) {
        db.run(tx -> {
            HandChanges.HandChange c = HandChanges.byId(tx, call.id())
                    .orElseThrow(() -> new Refused(
                            Refused.Kind.CONFLICT,
                            "only a change can be cancelled; what is to be done for a profile ends with the profile"));
            if (c.entered()) {
                manual.unmade(
                        tx,
                        c.gatewayId(),
                        OfficeDocuments.DEVICE.read(c.before()),
                        OfficeDocuments.DEVICE.read(c.wanted()),
                        call.now());
            }
            DeviceChanges.move(tx, c.id(), ChangeState.CANCELLED, "nobody needs it any more", Optional.of(call.now()));
            Events.say(tx, "gateway", c.gatewayId());
            Journal.append(tx, call.by(), "instruction-cancelled", "gateway", c.gatewayId(), c.words());
        });
        return Answer.done();
    }

    private Gateways.Gateway gateway(Call call) {
        return db.inTransaction(tx -> gateways.byId(tx, call.id())).orElseThrow(() -> Refused.notFound("gateway"));
    }

    private Answer send(Call call) {
        Gateways.Gateway g = gateway(call);
        String to = call.body(InstructionApi.Send.class)
                .to()
                .filter(t -> !t.isBlank())
                .map(t -> Fields.mail("to", t))
                .orElse(g.contact());
        if (to.isEmpty()) {
            throw new Refused(
                    Refused.Kind.MALFORMED,
                    "say whom to send it to; or name who does this at " + g.name() + ": tender gateway set " + g.name()
                            + " --contact MAIL",
                    "to");
        }
        if (!mail.isSet()) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "no mail server is set; set mail.server and mail.from, or print the sheet: tender instruction sheet "
                            + g.name());
        }
        int count = db.inTransaction(tx -> open.at(tx, g.id()).size()
                + WantedFiles.words(FileRequests.at(tx, g.id())).size());
        if (count == 0) {
            throw new Refused(Refused.Kind.CONFLICT, "nothing is to be done by hand at " + g.name());
        }
        UUID job = db.inTransaction(
                tx -> InstructionMail.order(tx, g.id(), to, call.caller().reference()));
        return JobRoutes.whenDone(waits, job, to, () -> Answer.ok(new InstructionApi.Sent(to, count)));
    }

    private Answer sheet(Call call) {
        Gateways.Gateway g = gateway(call);
        List<InstructionSheet.Entry> entries = db.inTransaction(tx -> {
            List<OpenInstruction> all = open.at(tx, g.id());
            all.forEach(i -> shown(tx, call, i));
            List<InstructionSheet.Entry> out = new java.util.ArrayList<>(
                    all.stream().map(i -> entry(tx, i)).toList());
            WantedFiles.words(FileRequests.at(tx, g.id()))
                    .forEach(w -> out.add(new InstructionSheet.Entry(w, Map.of(), Map.of(), Map.of())));
            return out;
        });
        if (entries.isEmpty()) {
            throw new Refused(Refused.Kind.CONFLICT, "nothing is to be done by hand at " + g.name());
        }
        String html = InstructionSheet.html(
                "To do on " + g.name(),
                g.name() + " at " + g.site() + ", as of "
                        + call.now().toString().substring(0, 16).replace('T', ' ')
                        + " UTC. Say in Tender what is done: it is checked at once. Destroy this sheet afterwards where it shows keys.",
                entries);
        return new Answer.File("application/pdf", g.name() + "-to-do.pdf", SheetPdf.of(html));
    }

    private InstructionSheet.Entry entry(Tx tx, OpenInstruction i) {
        Map<String, String> values = new LinkedHashMap<>();
        i.steps().forEach(s -> values.putAll(s.values()));
        Map<String, Secret> copy = new LinkedHashMap<>();
        texts.of(tx, i).forEach(t -> copy.put(t.label(), t.text()));
        Map<String, String> notes = new LinkedHashMap<>();
        if (!i.why().isEmpty()) {
            notes.put("Why:", i.why());
        }
        notes.put("Cut off:", i.cuts());
        notes.put("Afterwards:", i.check());
        return new InstructionSheet.Entry(i.what(), values, copy, notes);
    }
}
