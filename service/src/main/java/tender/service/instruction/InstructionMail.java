package tender.service.instruction;

import com.fasterxml.jackson.core.type.TypeReference;
import jakarta.mail.MessagingException;
import java.io.IOException;
import java.net.URI;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Supplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.office.HandSteps;
import tender.service.alert.OutgoingMail;
import tender.service.job.JobKind;
import tender.service.profile.WantedFiles;
import tender.service.refusal.Refused;
import tender.store.change.HandChanges;
import tender.store.document.Document;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.profile.Asked;
import tender.store.profile.FileRequests;
import tender.store.profile.Instructions;

/**
 * Sends what is to be done by hand at a gateway to whoever does it: at once where somebody says so, and by itself to the gateway's
 * contact when something new is open there. A mail holds no secret; where one is needed, it says where it is shown.
 */
final class InstructionMail implements JobKind {
    private static final Logger LOG = LoggerFactory.getLogger(InstructionMail.class);
    private static final String NAME = "instruction-mail";
    private static final Duration EVERY = Duration.ofSeconds(20);
    private static final int AT_ONCE = 50;
    /** How long a gateway's contact is left alone after a mail server took nothing. */
    private static final Duration REST = Duration.ofMinutes(10);

    private final Map<UUID, Instant> failed = new ConcurrentHashMap<>();

    private record Errand(UUID gatewayId, String to, String actor) {}

    private static final Document<Errand> ERRAND = Document.of("instructions to send", new TypeReference<>() {});

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final OpenInstructions open;
    private final OutgoingMail mail;
    private final Supplier<URI> console;

    InstructionMail(
            Db db, Clock clock, Gateways gateways, OpenInstructions open, OutgoingMail mail, Supplier<URI> console) {
        this.db = db;
        this.clock = clock;
        this.gateways = gateways;
        this.open = open;
        this.mail = mail;
        this.console = console;
    }

    static void ensure(Tx tx) {
        Jobs.keepRunning(tx, NAME, EVERY);
    }

    /** Sends all that is open at a gateway; gives the job. */
    static UUID order(Tx tx, UUID gatewayId, String to, String actor) {
        return Jobs.add(
                tx,
                Jobs.Order.once(NAME, ERRAND.write(new Errand(gatewayId, to, actor)), NAME + ":" + gatewayId)
                        .attempts(1));
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        if (!job.payload().isEmpty()) {
            try {
                send(ERRAND.read(job.payload()));
            } catch (MessagingException | IOException e) {
                throw new Refused(Refused.Kind.UNAVAILABLE, "no mail was sent: " + e.getMessage());
            }
        } else if (mail.isSet()) {
            for (UUID id : db.inTransaction(tx -> HandChanges.toAsk(tx, AT_ONCE))) {
                if (clock.instant().isAfter(failed.getOrDefault(id, Instant.MIN))) {
                    byItself(id);
                }
            }
        }
    }

    private void byItself(UUID gatewayId) {
        Gateways.Gateway g =
                db.inTransaction(tx -> gateways.byId(tx, gatewayId)).orElseThrow();
        try {
            send(new Errand(gatewayId, g.contact(), "tender"));
            failed.remove(gatewayId);
        } catch (MessagingException | IOException e) {
            failed.put(gatewayId, clock.instant().plus(REST));
            LOG.warn("no mail to {} about {}, tried again in ten minutes: {}", g.contact(), g.name(), e.getMessage());
        }
    }

    private record Letter(String subject, String text, int instructions) {}

    private void send(Errand errand) throws MessagingException, IOException {
        Optional<Letter> letter = db.inTransaction(tx -> letter(tx, errand.gatewayId()));
        if (letter.isEmpty()) {
            return;
        }
        mail.send(errand.to(), letter.get().subject(), letter.get().text());
        Asked asked = new Asked(errand.to(), clock.instant());
        db.run(tx -> {
            HandChanges.asked(tx, errand.gatewayId(), asked);
            Instructions.asked(tx, errand.gatewayId(), asked);
            FileRequests.asked(tx, errand.gatewayId(), asked);
            Events.say(tx, "gateway", errand.gatewayId());
            Journal.append(
                    tx,
                    new By(errand.actor(), asked.at()),
                    "instructions-sent",
                    "gateway",
                    errand.gatewayId(),
                    letter.get().instructions() + " to " + errand.to());
        });
    }

    private Optional<Letter> letter(Tx tx, UUID gatewayId) {
        Gateways.Gateway g = gateways.byId(tx, gatewayId).orElseThrow(() -> Refused.notFound("gateway"));
        List<OpenInstruction> all = open.at(tx, gatewayId);
        List<String> files = WantedFiles.words(FileRequests.at(tx, gatewayId));
        if (all.isEmpty() && files.isEmpty()) {
            return Optional.empty();
        }
        StringBuilder text = new StringBuilder("This is to be done by hand on " + g.name() + " (" + g.site() + ").\n");
        int number = 1;
        for (OpenInstruction i : all) {
            text.append('\n').append(number++).append(". ");
            for (HandSteps s : i.steps()) {
                text.append(String.join("\n", s.lines())).append('\n');
                s.paste()
                        .forEach((label, content) ->
                                text.append('\n').append(label).append(":\n\n").append(content));
            }
            if (!i.why().isEmpty()) {
                text.append("  Why: ").append(i.why()).append('\n');
            }
            text.append("  Cut off: ").append(i.cuts()).append('\n');
            text.append("  Afterwards: ").append(i.check()).append('\n');
        }
        for (String words : files) {
            text.append('\n').append(number++).append(". ").append(words).append('\n');
        }
        text.append(
                        "\nTexts to copy that hold a secret are not in this mail. They are shown, and you say what is done, here:\n")
                .append(console.get())
                .append("/gateways/")
                .append(gatewayId)
                .append('\n');
        int count = number - 1;
        return Optional.of(new Letter(
                "Tender: " + count + (count == 1 ? " thing" : " things") + " to do on " + g.name(),
                text.toString(),
                count));
    }
}
