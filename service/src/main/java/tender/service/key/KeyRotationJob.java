package tender.service.key;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import tender.service.job.JobKind;
import tender.service.job.NotNow;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.secret.EncryptedColumn;
import tender.store.secret.KeyRotations;
import tender.store.secret.Reencryption;

/**
 * Encrypts every value anew under the newest master key, in small batches, while the service works. It has ended when a pass
 * found nothing left that began after every node alive had the new key; a kill anywhere only means that the next run goes on.
 */
final class KeyRotationJob implements JobKind {
    private static final Duration LOOK_AGAIN = Duration.ofSeconds(2);

    private final Db db;
    private final Clock clock;
    private final MasterKeys keys;

    KeyRotationJob(Db db, Clock clock, MasterKeys keys) {
        this.db = db;
        this.clock = clock;
        this.keys = keys;
    }

    @Override
    public String name() {
        return MasterKeys.ROTATION;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        UUID id = UUID.fromString(job.payload());
        keys.look();
        Optional<KeyRotations.Rotation> rotation = db.inTransaction(KeyRotations::newest)
                .filter(r -> r.id().equals(id) && r.endedAt().isEmpty());
        if (rotation.isEmpty()) {
            return;
        }
        String keyId = rotation.get().keyId();
        Optional<String> without = db.inTransaction(tx -> KeyRotations.aNodeWithout(tx, keyId));
        pass(progress);
        if (without.isPresent()) {
            throw new NotNow(without.get() + " has not taken the new key over yet", LOOK_AGAIN);
        }
        Instant now = clock.instant();
        boolean ended = db.inTransaction(tx -> {
            keys.reencryption().quiet(tx); // what somebody was writing until now is there to be seen
            if (keys.reencryption().left(tx) > 0) {
                return false;
            }
            KeyRotations.end(tx, id, now);
            Events.say(tx, KeyRotations.TOPIC, id);
            Journal.append(tx, By.tender(now), "master-key-rotation-ended", "installation", keyId, "");
            return true;
        });
        if (!ended) {
            throw new NotNow("values that somebody was writing are left", LOOK_AGAIN);
        }
        keys.look();
    }

    private void pass(Progress progress) {
        Reencryption work = keys.reencryption();
        long all = Math.max(1, db.inTransaction(work::left));
        long done = 0;
        int told = -1;
        for (EncryptedColumn column : EncryptedColumn.values()) {
            Reencryption.Batch batch = work.batch(column, column.first());
            while (batch.values() > 0) {
                done += batch.values();
                int percent = (int) Math.min(99, done * 100 / all);
                if (percent != told) {
                    told = percent;
                    progress.at(percent, done + " of " + all + " values encrypted anew");
                }
                batch = work.batch(column, batch.last());
            }
        }
    }
}
