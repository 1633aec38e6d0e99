package tender.service.key;

import java.io.IOException;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.credential.Secret;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.ConflictException;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.StoreException;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.secret.ColumnCipher;
import tender.store.secret.KeyRotations;
import tender.store.secret.MasterKey;
import tender.store.secret.Reencryption;

/**
 * The keys that this node has at hand. A rotation that goes on tells the new key by the database, encrypted under the one
 * before: a node takes it over when it hears of it, when it meets a value that the new key encrypted, or when it starts.
 */
public final class MasterKeys {
    /** The kind of job that carries a rotation out. */
    static final String ROTATION = "key-rotation";

    private static final int ATTEMPTS = 1_000; // it goes on however often it is cut short

    private static final Logger LOG = LoggerFactory.getLogger(MasterKeys.class);
    private static final int KEY_BYTES = 32;

    /** Where keys are kept outside of the database. */
    public interface Store {
        /** Whether keys can be written there. */
        boolean isWritable();

        /** Adds a key as the newest; one that is there stays as it is. */
        void add(MasterKey key) throws IOException;

        /** Puts all keys but this one aside. */
        void dropOthers(String keyId) throws IOException;
    }

    private final Db db;
    private final String node;
    private final ColumnCipher cipher;
    private final Store store;
    private final Reencryption reencryption;

    public MasterKeys(Db db, String node, ColumnCipher cipher, Store store) {
        this.db = db;
        this.node = node;
        this.cipher = cipher;
        this.store = store;
        this.reencryption = new Reencryption(db, cipher);
        cipher.whenUnknown(this::look);
    }

    /** Takes over what a rotation has told since; cheap where there is none. */
    public void look() {
        Optional<KeyRotations.Rotation> newest = db.inTransaction(KeyRotations::newest);
        newest.ifPresent(this::follow);
        db.run(tx -> KeyRotations.has(tx, node, cipher.ids()));
    }

    private synchronized void follow(KeyRotations.Rotation r) {
        try {
            if (r.wrapped().isPresent() && !cipher.ids().contains(r.keyId())) {
                MasterKey fresh = reencryption.unwrap(r.keyId(), r.wrapped().get(), r.id());
                store.add(fresh); // kept before anything is encrypted under it
                cipher.add(fresh);
                LOG.info("the master key {} encrypts from now on", r.keyId());
            } else if (r.endedAt().isPresent()
                    && cipher.newest().equals(r.keyId())
                    && cipher.ids().size() > 1) {
                store.dropOthers(r.keyId());
                cipher.dropOthers();
                LOG.info("the master key {} is the only one from now on", r.keyId());
            }
        } catch (IOException e) {
            LOG.error("the new master key cannot be kept on this node: {}", e.getMessage());
        }
    }

    /** Hears of a rotation that began or ended. */
    public void heard() {
        try {
            look();
        } catch (StoreException e) {
            LOG.warn("the master key's rotation cannot be looked at: {}", e.getMessage());
        }
    }

    /**
     * Makes a new key and orders that all values are encrypted under it. Gives the job.
     *
     * @param actor who wants it, for the journal
     * @param name the same, for people to read
     */
    public UUID rotate(String actor, String name, Instant now) {
        if (!store.isWritable()) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "the master key comes from a command, or its file cannot be written here; a new one could not be kept");
        }
        String keyId = "k" + Long.toString(now.getEpochSecond(), 36);
        byte[] bytes = new byte[KEY_BYTES];
        new SecureRandom().nextBytes(bytes);
        UUID id = Ids.next();
        byte[] wrapped = reencryption.wrap(new MasterKey(keyId, Secret.of(bytes)), id);
        java.util.Arrays.fill(bytes, (byte) 0);
        try {
            return db.inTransaction(tx -> {
                KeyRotations.insert(
                        tx, new KeyRotations.Rotation(id, keyId, Optional.of(wrapped), name, now, Optional.empty()));
                Events.say(tx, KeyRotations.TOPIC, id);
                Journal.append(tx, new By(actor, now), "master-key-rotation-started", "installation", keyId, "");
                return Jobs.add(
                        tx, Jobs.Order.once(ROTATION, id.toString(), ROTATION).attempts(ATTEMPTS));
            });
        } catch (ConflictException e) {
            throw new Refused(Refused.Kind.CONFLICT, "the master key is being rotated already");
        }
    }

    Reencryption reencryption() {
        return reencryption;
    }
}
