package tender.service.journal;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.api.Page;
import tender.api.WatchApi;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.jdbc.Db;
import tender.store.journal.Journal;
import tender.store.journal.References;

/** The journal, newest first, and whether its chain is whole. */
final class JournalRoutes implements Routes {
    private final Db db;

    JournalRoutes(Db db) {
        this.db = db;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/journal",
                        Role.READERS,
                        "Who did what, newest first; ?who= an operator's name or tender, ?action= such as profile-issued, ?subject= a kind such as gateway, ?since= a time",
                        WatchApi.JournalEntry.class,
                        this::list),
                Route.post(
                        "/journal/verify",
                        Role.READERS,
                        "Check the whole chain, and where one is given an end of it that was written down elsewhere",
                        WatchApi.Head.class,
                        WatchApi.Chain.class,
                        this::verify));
    }

    private Answer verify(Call call) {
        Optional<Journal.Head> kept = call.bodyIfAny(WatchApi.Head.class)
                .map(h -> new Journal.Head(h.number(), Fields.required("hash", h.hash())));
        return Answer.ok(db.inTransaction(tx -> {
            Optional<Long> broken = Journal.firstBroken(tx);
            Journal.Head head = Journal.head(tx);
            return new WatchApi.Chain(
                    broken.isEmpty(),
                    broken,
                    new WatchApi.Head(head.number(), head.hash()),
                    kept.map(h -> Journal.holds(tx, h)));
        }));
    }

    private Answer list(Call call) {
        int limit = Cursor.limit(call);
        long before = call.query("after")
                .map(Cursor::decode)
                .map(JournalRoutes::number)
                .orElse(Long.MAX_VALUE);
        Journal.Filter filter = new Journal.Filter(
                call.query("who"),
                call.query("action"),
                call.query("subject"),
                call.query("since").map(t -> Fields.parse("since", t, Instant::parse)));
        Map<String, String> names = new HashMap<>();
        List<Journal.Written> rows = db.inTransaction(tx -> {
            List<Journal.Written> page = Journal.page(tx, filter, before, limit);
            names.putAll(References.names(tx, page));
            return page;
        });
        Optional<String> next = rows.size() < limit
                ? Optional.empty()
                : Optional.of(Cursor.encode(
                        Long.toString(rows.get(rows.size() - 1).entry().number())));
        return Answer.ok(new Page<>(rows.stream().map(row -> render(row, names)).toList(), next));
    }

    private static long number(String text) {
        if (!text.matches("[0-9]{1,18}")) {
            throw new MalformedException("cursor", "after", "is not a cursor of this list");
        }
        return Long.parseLong(text);
    }

    private static WatchApi.JournalEntry render(Journal.Written w, Map<String, String> names) {
        String subject = names.get(w.entry().subjectKind() + ":" + w.entry().subjectId());
        return new WatchApi.JournalEntry(
                w.entry().number(),
                w.entry().at(),
                names.getOrDefault(w.entry().actor(), w.entry().actor().replaceFirst(":.*", "")),
                w.entry().action().replace('-', ' ') + (subject == null ? "" : ": " + subject),
                w.entry().actor(),
                w.entry().action(),
                w.entry().subjectKind(),
                w.entry().subjectId(),
                w.entry().detail(),
                w.hash());
    }
}
