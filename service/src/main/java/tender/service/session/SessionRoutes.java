package tender.service.session;

import java.util.List;
import tender.api.WatchApi;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.profile.AskedFor;
import tender.store.jdbc.Db;
import tender.store.session.Sessions;

/** Who is connected, and who was. */
public final class SessionRoutes {
    private SessionRoutes() {}

    public static List<Route> of(Db db) {
        return List.of(Route.page(
                        "/sessions",
                        Role.READERS,
                        "Connections now; ?past=true for ended ones, ?past=any for both; " + AskedFor.WORDS,
                        WatchApi.Session.class,
                        call -> Cursor.newestFirst(
                                call,
                                Sessions.SORTS,
                                slice -> db.inTransaction(tx -> Sessions.page(
                                        tx,
                                        new Sessions.Filter(
                                                which(call), call.query("gateway"), AskedFor.anywhere(call)),
                                        slice)),
                                Sessions.Session::id,
                                SessionRoutes::render))
                .sortedBy(Sessions.SORTS.keySet()));
    }

    private static Sessions.Which which(Call call) {
        return switch (call.query("past").orElse("false")) {
            case "false" -> Sessions.Which.LIVE;
            case "any" -> Sessions.Which.ALL;
            default -> Sessions.Which.ENDED;
        };
    }

    public static List<WatchApi.Session> render(List<Sessions.Session> all) {
        return all.stream()
                .map(s -> new WatchApi.Session(
                        s.id().toString(),
                        s.gateway(),
                        s.listener(),
                        s.label(),
                        s.person(),
                        s.personName(),
                        s.device(),
                        s.origin(),
                        s.addresses(),
                        s.endpoint(),
                        s.since(),
                        s.lastHeard(),
                        s.endedAt(),
                        s.received(),
                        s.sent()))
                .toList();
    }
}
