package tender.service.walk;

import java.util.List;
import java.util.Locale;
import tender.api.ProblemCode;
import tender.api.WalkApi;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Office;
import tender.core.office.Protocol.PortSpec;
import tender.core.walk.Hop;
import tender.core.walk.Walk;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.office.OfficeRecords;

/** Walks a route from a profile at a place to an inside host. */
public final class WalkRoutes implements Routes {
    private final OfficeRecords records;

    public WalkRoutes(OfficeRecords records) {
        this.records = records;
    }

    @Override
    public List<Route> routes() {
        return List.of(Route.post(
                "/walks",
                Role.READERS,
                "Hop by hop from a device at a place to an inside host, from the records alone",
                WalkApi.Question.class,
                WalkApi.Path.class,
                this::walk));
    }

    private Answer walk(Call call) {
        WalkApi.Question asked = call.body(WalkApi.Question.class);
        Office office = records.office(call.now());
        String label = Fields.required("profile", asked.profile());
        Office.IssuedProfile issued = office.issuedProfiles().stream()
                .filter(h -> h.label().equals(label))
                .findFirst()
                .orElseThrow(() -> new ApiFailure(
                        ProblemCode.NOT_FOUND, "no profile of this label has been handed out", "profile"));
        Walk.Place place = new Walk.Place(
                Fields.parse("place", asked.place(), Walk.Standing::parse),
                asked.lan().map(t -> Fields.parse("lan", t, Cidr::parse)),
                asked.onlyWeb().orElse(false),
                asked.site());
        Walk.Path path = Walk.of(
                office,
                new Walk.Question(
                        issued,
                        place,
                        Fields.parse("to", asked.to(), IpAddress::parse),
                        asked.port().map(t -> Fields.parse("port", t, WalkRoutes::port))));
        return Answer.ok(new WalkApi.Path(
                path.hops().stream().map(WalkRoutes::render).toList(),
                path.failed().isEmpty(),
                path.failed().map(h -> word(h.kind())),
                path.failed().flatMap(Hop::remedy).map(Hop.Remedy::words)));
    }

    private static PortSpec port(String text) {
        String[] words = text.strip().split("\\s+");
        if (words.length != 2 || !words[0].equals("udp") && !words[0].equals("tcp")) {
            throw new MalformedException("port", "", "a port is written like tcp 445");
        }
        return new PortSpec(words[0].equals("udp") ? Transport.UDP : Transport.TCP, Port.parse(words[1]));
    }

    private static String word(Hop.Kind kind) {
        return kind.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    private static WalkApi.Hop render(Hop h) {
        return new WalkApi.Hop(
                word(h.kind()),
                h.verdict().name().toLowerCase(Locale.ROOT),
                h.place(),
                h.decidedBy(),
                h.detail(),
                h.remedy().map(Hop.Remedy::words),
                h.remedy().flatMap(Hop.Remedy::gateway),
                h.remedy().flatMap(Hop.Remedy::change));
    }
}
