package tender.service;

import java.io.IOException;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.service.key.MasterKeys;
import tender.service.settings.Settings;
import tender.store.jdbc.Db;
import tender.store.jdbc.StoreException;
import tender.store.office.Installation;
import tender.store.secret.ColumnCipher;

/** The database with its keys, ready for use. */
record Opened(Db db, ColumnCipher cipher, MasterKeys masterKeys, String installation, Secret journalKey) {
    private static final Duration PATIENCE = Duration.ofSeconds(5);

    static Opened open(Settings settings, DataFolder folder, Instant now) throws IOException, InterruptedException {
        ColumnCipher cipher = new ColumnCipher(folder.masterKeys(settings));
        Settings.Database database = settings.database();
        Db db = database.owner()
                .map(owner -> Db.open(
                        place(database),
                        new Db.Place(database.url(), owner.user(), owner.password(), 2, PATIENCE),
                        database.staffUser()))
                .orElseGet(() -> Db.open(place(database)));
        try {
            UUID installation = db.inTransaction(tx -> Installation.id(tx, now));
            MasterKeys keys = new MasterKeys(db, folder.node(), cipher, folder.masterKeyStore(settings));
            keys.look(); // a rotation may have begun or ended while this node was down
            db.run(tx -> Installation.checkKey(tx, installation, cipher));
            Secret key = db.inTransaction(tx -> Installation.journalKey(tx, installation, cipher, new SecureRandom()));
            db.chainWith(key);
            return new Opened(db, cipher, keys, installation.toString(), key);
        } catch (StoreException e) {
            db.close();
            throw new IOException(
                    "this database's secrets were encrypted under another master key; name that key in master-key.file",
                    e);
        }
    }

    static Db.Place place(Settings.Database database) {
        return new Db.Place(database.url(), database.user(), database.password(), database.connections(), PATIENCE);
    }
}
