package tender.service.journal;

import jakarta.mail.MessagingException;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import tender.io.alert.Syslog;
import tender.service.job.JobKind;
import tender.service.refusal.Refused;
import tender.service.settings.Settings;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.Journal;

/**
 * Writes down elsewhere where the journal's chain ends, so that whoever holds the database and its keys still cannot write it
 * anew unseen: {@code NUMBER:HASH}, as {@code tender journal verify --head} takes it.
 */
final class JournalHead {
    private static final String HOURLY = "journal-head";
    private static final String DAILY = "journal-head-mail";

    private final Db db;
    private final Clock clock;
    private final String node;
    private final Settings settings;

    JournalHead(Db db, Clock clock, String node, Settings settings) {
        this.db = db;
        this.clock = clock;
        this.node = node;
        this.settings = settings;
    }

    java.util.List<JobKind> kinds() {
        return java.util.List.of(new Kind(HOURLY, this::write), new Kind(DAILY, this::mail));
    }

    void ensure(Tx tx) {
        if (settings.heads().file().isPresent() || settings.heads().syslog().isPresent()) {
            Jobs.keepRunning(tx, HOURLY, Duration.ofHours(1));
        } else {
            Jobs.strike(tx, HOURLY, "");
        }
        if (settings.heads().mail()) {
            Jobs.keepRunning(tx, DAILY, Duration.ofDays(1));
        } else {
            Jobs.strike(tx, DAILY, "");
        }
    }

    private interface Errand {
        void run(String head, Instant now) throws IOException, MessagingException;
    }

    private final class Kind implements JobKind {
        private final String name;
        private final Errand errand;

        Kind(String name, Errand errand) {
            this.name = name;
            this.errand = errand;
        }

        @Override
        public String name() {
            return name;
        }

        @Override
        public void run(Jobs.Job job, Progress progress) {
            Journal.Head head = db.inTransaction(Journal::head);
            try {
                errand.run(head.number() + ":" + head.hash(), clock.instant());
            } catch (IOException | MessagingException e) {
                throw new Refused(Refused.Kind.UNAVAILABLE, "the journal's end is not written down: " + e.getMessage());
            }
        }
    }

    private void write(String head, Instant now) throws IOException {
        String line = now.truncatedTo(ChronoUnit.SECONDS) + " " + head + "\n";
        if (settings.heads().file().isPresent()) {
            Files.writeString(
                    settings.heads().file().get(),
                    line,
                    StandardCharsets.US_ASCII,
                    StandardOpenOption.CREATE,
                    StandardOpenOption.APPEND,
                    StandardOpenOption.DSYNC);
        }
        if (settings.heads().syslog().isPresent()) {
            new Syslog(settings.heads().syslog().get()).send(node, "journal-head", head, now);
        }
    }

    private void mail(String head, Instant now) throws MessagingException {
        if (settings.alerts().wordByMail().isPresent()) {
            settings.alerts()
                    .wordByMail()
                    .get()
                    .send(
                            settings.alerts().mailTo(),
                            "Tender: end of the journal",
                            head + "\n\nKeep it. tender journal verify --head " + head
                                    + " says later whether the journal still stands as it does now.\n",
                            now);
        }
    }
}
