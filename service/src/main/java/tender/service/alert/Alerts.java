package tender.service.alert;

import com.fasterxml.jackson.core.type.TypeReference;
import jakarta.mail.MessagingException;
import java.io.IOException;
import java.time.Clock;
import java.time.Instant;
import tender.io.alert.WebCall;
import tender.io.names.NameService;
import tender.service.http.Json;
import tender.service.job.JobKind;
import tender.service.refusal.Refused;
import tender.service.settings.Settings;
import tender.store.document.Document;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;

/** Sends word of what changed, each way as a job of its own that is tried again a few times. */
public final class Alerts implements JobKind {
    private static final String NAME = "alert";

    /**
     * A word.
     *
     * @param what stable: {@code listener-fails} or {@code listener-works}
     * @param subject one line, {@code text} the rest
     */
    public record Word(String what, String gateway, String listener, Instant since, String subject, String text) {}

    private record Errand(String way, Word word) {}

    private static final Document<Errand> ERRAND = Document.of("a word to be sent", new TypeReference<>() {});

    private final Settings.Ways ways;
    private final WebCall web = new WebCall();

    private final NameService names;
    private final OutgoingMail mail;

    public Alerts(Clock clock, Settings.Ways ways, NameService names) {
        this.names = names;
        this.mail = new OutgoingMail(ways.mail(), names, clock);
        this.ways = ways;
    }

    /** Orders that a word be sent on each way that is set. */
    public void say(Tx tx, Word word, Instant now) {
        ways.webhook().ifPresent(w -> order(tx, new Errand("webhook", word), now));
        ways.wordByMail().ifPresent(m -> order(tx, new Errand("mail", word), now));
    }

    private static void order(Tx tx, Errand errand, Instant now) {
        Jobs.add(tx, Jobs.Order.once(NAME, ERRAND.write(errand), NAME + ":" + Ids.next()));
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        Errand errand = ERRAND.read(job.payload());
        try {
            if (errand.way().equals("webhook") && ways.webhook().isPresent()) {
                Callable.check(ways.webhook().get().getHost(), names);
                web.post(ways.webhook().get(), Json.write(errand.word()));
            } else if (errand.way().equals("mail") && ways.wordByMail().isPresent()) {
                mail.send(ways.mailTo(), errand.word().subject(), errand.word().text());
            }
        } catch (IOException | MessagingException e) {
            throw new Refused(Refused.Kind.UNAVAILABLE, "no word by " + errand.way() + ": " + e.getMessage());
        }
    }
}
