package tender.service.overview;

import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Supplier;
import java.util.stream.Stream;
import tender.api.InstructionApi;
import tender.api.ProfileApi;
import tender.api.WatchApi;
import tender.core.wire.Fields;
import tender.service.finding.FindingRoutes;
import tender.service.finding.FindingsList;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.instruction.InstructionView;
import tender.service.instruction.OpenInstructions;
import tender.service.profile.ProfileView;
import tender.service.session.SessionRoutes;
import tender.store.jdbc.Db;
import tender.store.jdbc.Slice;
import tender.store.jdbc.Tx;
import tender.store.overview.Line;
import tender.store.overview.Search;
import tender.store.profile.Profiles;
import tender.store.profile.Standings;
import tender.store.session.Sessions;

/** What needs somebody now, what is connected now, and search over everything. */
public final class OverviewRoutes implements Routes {
    private static final UUID END = UUID.fromString("ffffffff-ffff-ffff-ffff-ffffffffffff");
    private static final int SHOWN = 12;

    private final Db db;
    private final FindingsList findings;
    private final OpenInstructions instructions;

    public OverviewRoutes(Db db, FindingsList findings, OpenInstructions instructions) {
        this.instructions = instructions;
        this.db = db;
        this.findings = findings;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.get(
                        "/overview",
                        Role.READERS,
                        "The areas of work with what waits at each area",
                        WatchApi.Overview.class,
                        this::overview),
                Route.page(
                        "/search",
                        Role.READERS,
                        "People, gateways and profiles whose name holds ?text=",
                        WatchApi.Hit.class,
                        this::search));
    }

    private Answer overview(Call call) {
        Supplier<FindingsList.Worst> worst = findings.worst(call.now(), SHOWN);
        Rest rest = db.inTransaction(this::rest);
        FindingsList.Worst found = worst.get();
        return Answer.ok(new WatchApi.Overview(
                areas(rest.counts(), found.all()),
                attention(rest.counts()),
                found.shown().stream().map(FindingRoutes::render).toList(),
                rest.instructions(),
                rest.neverSeen(),
                rest.connected()));
    }

    /** All but the findings, which are judged meanwhile. */
    private record Rest(
            Line.Counts counts,
            List<InstructionApi.Instruction> instructions,
            List<ProfileApi.Profile> neverSeen,
            List<WatchApi.Session> connected) {}

    private Rest rest(Tx tx) {
        return new Rest(
                Line.counts(tx),
                InstructionView.oldest(instructions, tx, SHOWN),
                Profiles.page(tx, Standings.Filter.open(Standings.Open.NEVER_SEEN), Slice.after("", SHOWN)).stream()
                        .map(ProfileView::render)
                        .toList(),
                SessionRoutes.render(Sessions.page(tx, Sessions.Filter.LIVE, Slice.after(END, SHOWN))));
    }

    private static List<WatchApi.Area> areas(Line.Counts c, long findings) {
        return List.of(
                area(
                        "gateways",
                        "Gateways",
                        c.gateways(),
                        c.unaccepted() + c.unreadable() + findings,
                        c.unreadable() > 0
                                ? c.unreadable()
                                        + (c.unreadable() == 1 ? " gateway does not answer" : " gateways do not answer")
                                : c.unaccepted() > 0
                                        ? c.unaccepted() + " identities to accept"
                                        : findings > 0 ? findings + " findings" : ""),
                area(
                        "profiles",
                        "Profiles",
                        c.profiles(),
                        c.failed() + c.writing() + c.byHand() + c.notHandedOut(),
                        c.failed() > 0
                                ? c.failed() + " could not be written"
                                : c.byHand() > 0
                                        ? c.byHand() + " to be done by hand at a gateway"
                                        : c.writing() > 0
                                                ? c.writing() + " being written"
                                                : c.notHandedOut() > 0 ? c.notHandedOut() + " not handed out" : ""),
                area(
                        "handouts",
                        "Handouts",
                        c.handouts(),
                        c.waitingToBeCollected(),
                        c.waitingToBeCollected() > 0 ? c.waitingToBeCollected() + " waiting to be collected" : ""),
                area(
                        "proof",
                        "Proof",
                        c.profiles(),
                        c.unproven(),
                        c.failing() > 0
                                ? c.failing() + " failing"
                                : c.unproven() > 0 ? c.unproven() + " without proof" : ""),
                area(
                        "connections",
                        "Connections",
                        c.connected(),
                        c.neverSeen(),
                        c.neverSeen() > 0 ? c.neverSeen() + " handed out, never seen" : ""),
                area(
                        "backups",
                        "Backups",
                        c.backups(),
                        c.withoutBackup(),
                        c.withoutBackup() > 0
                                ? c.withoutBackup() + (c.withoutBackup() == 1 ? " gateway" : " gateways")
                                        + " without any"
                                : ""));
    }

    /** What waits, the most urgent first, with what to do about it. */
    private static List<WatchApi.Attention> attention(Line.Counts c) {
        return Stream.of(
                        need(
                                "unreachable",
                                c.unreadable(),
                                "gateway does not answer",
                                "gateways do not answer",
                                "See why"),
                        need(
                                "identity",
                                c.unaccepted(),
                                "host key to compare",
                                "host keys to compare",
                                "Compare and accept"),
                        need(
                                "failed",
                                c.failed(),
                                "profile could not be written",
                                "profiles could not be written",
                                "Issue again"),
                        need(
                                "files-requested",
                                c.requestedFiles(),
                                "client file to make at a gateway",
                                "client files to make at gateways",
                                "See which"),
                        need(
                                "not-refused",
                                c.notRefused(),
                                "profile of somebody who left is not shown to be refused",
                                "profiles of people who left are not shown to be refused",
                                "See which"),
                        need(
                                "failing",
                                c.failing(),
                                "profile failed its last trial",
                                "profiles failed their last trial",
                                "See the trials"),
                        need(
                                "without-backup",
                                c.withoutBackup(),
                                "gateway has no backup",
                                "gateways have no backup",
                                "Back up"),
                        need(
                                "not-handed-out",
                                c.notHandedOut(),
                                "profile is not handed out",
                                "profiles are not handed out",
                                "Hand out"),
                        need(
                                "uncollected",
                                c.waitingToBeCollected(),
                                "handout is not collected yet",
                                "handouts are not collected yet",
                                "See which"),
                        need(
                                "unproven",
                                c.unproven(),
                                "profile is not proven",
                                "profiles are not proven",
                                "Run trials"))
                .flatMap(Optional::stream)
                .toList();
    }

    private static Optional<WatchApi.Attention> need(String kind, long count, String one, String many, String action) {
        return count == 0
                ? Optional.empty()
                : Optional.of(new WatchApi.Attention(kind, count, count + " " + (count == 1 ? one : many), action));
    }

    private static WatchApi.Area area(String key, String label, long count, long waiting, String worst) {
        return new WatchApi.Area(key, label, count, waiting, worst);
    }

    private Answer search(Call call) {
        String text = Fields.title("text", call.query("text").orElse(""));
        List<WatchApi.Hit> hits = db.inTransaction(tx -> Search.find(tx, text, SHOWN)).stream()
                .map(h -> new WatchApi.Hit(h.kind(), h.id(), h.label(), h.detail()))
                .toList();
        return Answer.ok(new tender.api.Page<>(hits, java.util.Optional.empty()));
    }
}
