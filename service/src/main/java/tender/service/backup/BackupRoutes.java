package tender.service.backup;

import java.security.SecureRandom;
import java.util.List;
import tender.api.WatchApi;
import tender.core.backup.Envelope;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.backup.Backups;
import tender.store.jdbc.Db;
import tender.store.journal.Journal;

/** Listing backups, and taking one out as an encrypted file. */
final class BackupRoutes implements Routes {
    private final Db db;
    private final Backups backups;
    private final SecureRandom random = new SecureRandom();

    BackupRoutes(Db db, Backups backups) {
        this.db = db;
        this.backups = backups;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                                "/backups",
                                Role.READERS,
                                "Backups, newest first; ?gateway=ID for one gateway's",
                                WatchApi.Backup.class,
                                call -> Cursor.newestFirst(
                                        call,
                                        Backups.SORTS,
                                        slice -> db.inTransaction(
                                                tx -> Backups.page(tx, call.queryId("gateway"), slice)),
                                        Backups.Backup::id,
                                        all -> all.stream()
                                                .map(BackupRoutes::render)
                                                .toList()))
                        .sortedBy(Backups.SORTS.keySet()),
                Route.get(
                        "/backups/{id}",
                        Role.READERS,
                        "One backup",
                        WatchApi.Backup.class,
                        call -> Answer.ok(render(find(call)))),
                Route.post(
                                "/backups/{id}/download",
                                Role.WRITERS,
                                "The backup as a zip in CMS AuthEnvelopedData, opened by openssl cms with the passphrase",
                                WatchApi.Download.class,
                                null,
                                this::download)
                        .afresh());
    }

    private Backups.Backup find(Call call) {
        return db.inTransaction(tx -> Backups.byId(tx, call.id())).orElseThrow(() -> ApiFailure.notFound("backup"));
    }

    private Answer download(Call call) {
        Backups.Backup backup = find(call);
        byte[] content = db.inTransaction(tx -> backups.content(tx, backup.id()));
        byte[] sealed = Envelope.seal(
                content,
                Fields.given("passphrase", call.body(WatchApi.Download.class).passphrase()),
                random);
        db.run(tx -> Journal.append(
                tx, call.by(), "backup-downloaded", "gateway", backup.gatewayId(), "number " + backup.number()));
        return new Answer.File(
                "application/pkcs7-mime", backup.gateway() + "-backup-" + backup.number() + ".zip.cms", sealed);
    }

    private static WatchApi.Backup render(Backups.Backup b) {
        return new WatchApi.Backup(
                b.id().toString(),
                b.gateway(),
                b.number(),
                b.reason(),
                b.takenAt(),
                b.release(),
                b.files(),
                b.bytes(),
                b.digest(),
                b.differences().stream()
                        .map(d -> new WatchApi.Difference(d.path(), d.kind(), d.linesAdded(), d.linesRemoved()))
                        .toList(),
                b.settings().stream()
                        .map(d -> new WatchApi.SettingDifference(d.field(), d.was(), d.is()))
                        .toList());
    }
}
