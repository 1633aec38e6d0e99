package tender.service.explain;

import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.api.Page;
import tender.api.WalkApi;
import tender.core.explain.Chooser;
import tender.core.explain.NetworkWords;
import tender.core.explain.Ports;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Network;
import tender.core.trial.LogLine;
import tender.core.wire.Fields;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;

/** Plain words about settings, tunnel types, ports and networks; nothing of the company's own is told. */
public final class ExplainRoutes {
    private static final int MAX_RESERVED = 500;
    /** Of a log, in characters. */
    private static final int MAX_LOG = 4_000_000;

    private ExplainRoutes() {}

    /** Routes that need no record of the company. */
    public static List<Route> routes() {
        return List.of(
                Route.page(
                        "/explain/settings",
                        Role.READERS,
                        "Every setting of a listener: what it does, what it costs, a safe value",
                        WalkApi.Setting.class,
                        call -> list(List.of(Attribute.values()).stream()
                                .map(a -> new WalkApi.Setting(
                                        a.word(),
                                        a.does(),
                                        a.costs(),
                                        a.safe(),
                                        a.concerns() == Attribute.Concerns.CLIENTS,
                                        a.restart().name().toLowerCase(Locale.ROOT)))
                                .toList())),
                Route.page(
                        "/explain/ports",
                        Role.READERS,
                        "Which ports each kind of service needs, and no more",
                        WalkApi.PortSpec.class,
                        call -> list(Ports.ALL.stream()
                                .map(d -> new WalkApi.PortSpec(d.kind(), d.reachedBy(), d.notes()))
                                .toList())),
                Route.page(
                        "/explain/needs",
                        Role.READERS,
                        "The needs to choose a tunnel type by",
                        WalkApi.Need.class,
                        call -> list(List.of(Chooser.Need.values()).stream()
                                .map(n -> new WalkApi.Need(n.word(), n.words()))
                                .toList())),
                Route.post(
                        "/explain/choose",
                        Role.READERS,
                        "Tunnel types for these needs, best first, with reasons",
                        WalkApi.Choose.class,
                        WalkApi.Chosen.class,
                        ExplainRoutes::choose),
                Route.post(
                        "/explain/network",
                        Role.READERS,
                        "A network in words",
                        WalkApi.Network.class,
                        WalkApi.NetworkWords.class,
                        ExplainRoutes::network),
                Route.post(
                        "/explain/log",
                        Role.READERS,
                        "What a VPN client's or server's log means; nothing of it is kept",
                        WalkApi.ExplainLog.class,
                        WalkApi.LogExplained.class,
                        ExplainRoutes::log));
    }

    private static Answer log(Call call) {
        String text = Fields.given("text", call.body(WalkApi.ExplainLog.class).text());
        Fields.range("text", text.length(), 1, MAX_LOG);
        return Answer.ok(new WalkApi.LogExplained(LogLine.read(text.lines().toList()).stream()
                .map(WalkApi.LogMeaning::of)
                .toList()));
    }

    private static Answer list(List<?> items) {
        return Answer.ok(new Page<>(items, Optional.empty()));
    }

    private static Answer choose(Call call) {
        Set<Chooser.Need> needs = EnumSet.noneOf(Chooser.Need.class);
        Fields.given("needs", call.body(WalkApi.Choose.class).needs())
                .forEach(t -> needs.add(Fields.parse("needs", t, Chooser.Need::parse)));
        return Answer.ok(new WalkApi.Chosen(Chooser.choose(needs).stream()
                .map(c -> new WalkApi.Choice(
                        c.protocol().word(), c.protocol().title(), c.speaksFor(), c.speaksAgainst(), c.weak()))
                .toList()));
    }

    private static Answer network(Call call) {
        WalkApi.Network asked = call.body(WalkApi.Network.class);
        Map<String, IpAddress> reserved = new LinkedHashMap<>();
        List<String> texts = asked.reserved().orElse(List.of());
        Fields.range("reserved", texts.size(), 0, MAX_RESERVED);
        for (String text : texts) {
            int equals = text.indexOf('=');
            String host = equals > 0 ? text.substring(0, equals) : "host " + (reserved.size() + 1);
            reserved.put(
                    Fields.title("reserved", host),
                    Fields.parse("reserved", equals > 0 ? text.substring(equals + 1) : text, IpAddress::parse));
        }
        NetworkWords w = NetworkWords.of(new Network(
                "network",
                Fields.parse("network", asked.network(), Cidr::parse),
                asked.pool().map(t -> Fields.parse("pool", t, Network.Pool::parse)),
                reserved));
        return Answer.ok(new WalkApi.NetworkWords(
                w.network().toString(),
                w.mask().map(Object::toString),
                w.firstUsable().toString(),
                w.lastUsable().toString(),
                w.broadcast().map(Object::toString),
                w.usable().toString(),
                w.leased().toString(),
                w.reserved(),
                w.rest().toString(),
                w.notes()));
    }
}
