package tender.service.journal;

import java.util.List;
import java.util.Optional;
import tender.api.Page;
import tender.api.WatchApi;
import tender.core.wire.MalformedException;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.store.jdbc.Db;
import tender.store.journal.Journal;

/** The journal, newest first, and whether its chain is whole. */
public final class JournalRoutes {
    private final Db db;

    public JournalRoutes(Db db) {
        this.db = db;
    }

    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/journal",
                        Role.READERS,
                        "Who did what, newest first",
                        WatchApi.JournalEntry.class,
                        this::list),
                Route.post(
                        "/journal/verify", Role.READERS, "Check the whole chain", null, WatchApi.Chain.class, call -> {
                            Optional<Long> broken = db.inTransaction(Journal::firstBroken);
                            return Answer.ok(new WatchApi.Chain(broken.isEmpty(), broken));
                        }));
    }

    private Answer list(Call call) {
        int limit = Cursor.limit(call);
        long before = call.query("after")
                .map(Cursor::decode)
                .map(JournalRoutes::number)
                .orElse(Long.MAX_VALUE);
        List<Journal.Written> rows = db.inTransaction(tx -> Journal.page(tx, before, limit));
        Optional<String> next = rows.size() < limit
                ? Optional.empty()
                : Optional.of(Cursor.encode(
                        Long.toString(rows.get(rows.size() - 1).entry().number())));
        return Answer.ok(new Page<>(rows.stream().map(JournalRoutes::render).toList(), next));
    }

    private static long number(String text) {
        if (!text.matches("[0-9]{1,18}")) {
            throw new MalformedException("cursor", "after", "is not a cursor of this list");
        }
        return Long.parseLong(text);
    }

    private static WatchApi.JournalEntry render(Journal.Written w) {
        return new WatchApi.JournalEntry(
                w.entry().number(),
                w.entry().at(),
                w.entry().actor(),
                w.entry().action(),
                w.entry().subjectKind(),
                w.entry().subjectId(),
                w.entry().detail(),
                w.hash());
    }
}
