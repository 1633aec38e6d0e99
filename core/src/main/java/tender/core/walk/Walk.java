package tender.core.walk;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.Listener;
import tender.core.office.Network;
import tender.core.office.Office;
import tender.core.office.PortRange;
import tender.core.office.Protocol;
import tender.core.office.Protocol.Door;
import tender.core.office.Side;
import tender.core.wire.MalformedException;

/** Hop by hop from a device outside to a host inside and back, from the records alone, before anyone tries. */
public final class Walk {
    /** Where the device stands. */
    public enum Standing {
        HOTEL,
        HOME,
        CARRIER,
        OFFICE;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        public static Standing parse(String text) {
            for (Standing s : values()) {
                if (s.word().equals(text)) {
                    return s;
                }
            }
            throw new MalformedException("place", "from", "hotel, home, carrier or office");
        }
    }

    /**
     * A place and what is known of it.
     *
     * @param lan the network the device is in there
     * @param onlyWeb whether nothing but TCP 443 is let out
     * @param site the site's name when the place is an office of the company
     */
    public record Place(Standing standing, Optional<Cidr> lan, boolean onlyWeb, Optional<String> site) {}

    /** From a profile at a place to an inside host, and to a door of it where one is asked for. */
    public record Question(Office.Holding from, Place place, IpAddress to, Optional<Door> door) {}

    /** What came out; {@code failed} is the first hop that does not let the packet on. */
    public record Path(List<Hop> hops, Optional<Hop> failed) {}

    private final Office office;
    private final Question question;
    private final List<Hop> hops = new ArrayList<>();

    private Walk(Office office, Question question) {
        this.office = office;
        this.question = question;
    }

    public static Path of(Office office, Question question) {
        Walk walk = new Walk(office, question);
        walk.go();
        return new Path(
                List.copyOf(walk.hops),
                walk.hops.stream().filter(h -> !h.passes()).findFirst());
    }

    private boolean ends() {
        return !hops.isEmpty() && !hops.get(hops.size() - 1).passes();
    }

    private void go() {
        Office.Holding holding = question.from();
        Office.Gateway gateway = office.gateway(holding.gateway())
                .orElseThrow(() -> new MalformedException("gateway", "from", "the profile's gateway is not recorded"));
        Listener listener = gateway.device()
                .listener(holding.listener())
                .orElseThrow(
                        () -> new MalformedException("listener", "from", "the profile's listener is not recorded"));
        Approach.Chain chain = Approach.chain(office, gateway);
        Optional<Endpoint> endpoint = holding.endpoints().stream().findFirst();
        if (endpoint.isEmpty()) {
            hops.add(Hop.fails(Hop.Kind.NAME, holding.label(), "the file", "the file names nobody to call")
                    .mended("tender gateway set " + gateway.name() + " --endpoint HOST, then tender profile renew "
                            + holding.label()));
            return;
        }
        Door door = new Door(endpoint.get().transport(), endpoint.get().port());
        name(endpoint.get(), chain, gateway);
        List<Runnable> steps = List.of(
                () -> place(door, listener, gateway),
                () -> approach(chain, listener, door),
                () -> file(listener, gateway),
                () -> login(listener, gateway),
                () -> tunnelAddress(listener, gateway),
                () -> route(listener),
                () -> overlap(listener),
                () -> insideFilter(gateway, listener),
                () -> host(gateway),
                () -> back(chain, gateway, listener));
        for (Runnable step : steps) {
            if (ends()) {
                return;
            }
            step.run();
        }
    }

    private void name(Endpoint endpoint, Approach.Chain chain, Office.Gateway gateway) {
        List<IpAddress> line = chain.addresses(office);
        String where = endpoint.host().toString();
        if (endpoint.isPlaceholder() || endpoint.isPrivate()) {
            hops.add(Hop.fails(
                            Hop.Kind.NAME,
                            where,
                            "the file's endpoint",
                            endpoint.isPlaceholder()
                                    ? "the file calls a text left over from a template"
                                    : "the file calls an inside address")
                    .mended("tender gateway set " + gateway.name() + " --endpoint HOST, then tender profile renew "
                            + question.from().label()));
            return;
        }
        List<IpAddress> called = addresses(endpoint.host());
        if (called.isEmpty()) {
            hops.add(Hop.fails(Hop.Kind.NAME, where, "the name", "the name leads to no address")
                    .mended("enter " + where + " with the provider of the name"
                            + line.stream().findFirst().map(a -> ": " + a).orElse("")));
        } else if (!line.isEmpty() && called.stream().noneMatch(line::contains)) {
            String but = ", but " + chain.outermost().name() + " is at " + line.get(0);
            hops.add(
                    endpoint.host() instanceof HostName
                            ? Hop.fails(Hop.Kind.NAME, where, "the name", where + " leads to " + called.get(0) + but)
                                    .mended("let " + where + " follow " + line.get(0)
                                            + " at the provider of the name; files need no change")
                            : Hop.fails(Hop.Kind.NAME, where, "the file's endpoint", "the file calls " + where + but)
                                    .mended(renew()));
        } else {
            hops.add(Hop.passes(
                    Hop.Kind.NAME,
                    where,
                    endpoint.host() instanceof HostName ? "the name" : "the file's endpoint",
                    endpoint.host() instanceof HostName
                            ? where + " leads to " + called.get(0)
                            : "the file calls " + where));
        }
    }

    private List<IpAddress> addresses(Host host) {
        return host instanceof Host.Literal literal
                ? List.of(literal.address())
                : office.names().getOrDefault((HostName) host, List.of());
    }

    private void place(Door door, Listener listener, Office.Gateway gateway) {
        Place place = question.place();
        String where = place.standing().word();
        boolean web = door.transport() == Transport.TCP && door.port().number() == 443;
        if (place.onlyWeb() && !web) {
            Optional<Listener> fits = gateway.device().listeners().stream()
                    .filter(l -> l.transport() == Transport.TCP
                            && l.port().filter(p -> p.number() == 443).isPresent())
                    .findFirst();
            hops.add(Hop.fails(
                            Hop.Kind.PLACE,
                            where,
                            "the place",
                            "nothing but tcp 443 is let out there, and the file calls " + door)
                    .mended(fits.map(l -> "hand out a profile for " + gateway.name() + " " + l.name()
                                    + ", which waits on tcp 443")
                            .orElse("put a listener on tcp 443 beside " + listener.name())));
            return;
        }
        if (place.standing() == Standing.OFFICE
                && place.site().filter(gateway.site()::equals).isPresent()) {
            hops.add(Hop.unknown(
                    Hop.Kind.PLACE,
                    where,
                    "the place",
                    "called from inside its own office: works only where " + gateway.name()
                            + "'s router turns such calls around"));
            return;
        }
        hops.add(Hop.passes(Hop.Kind.PLACE, where, "the place", "lets " + door + " out"));
    }

    private void approach(Approach.Chain chain, Listener listener, Door door) {
        hops.addAll(Approach.walk(office, chain, listener, door));
        Hop last = hops.get(hops.size() - 1);
        if (last.kind() == Hop.Kind.LISTENER
                && !last.passes()
                && last.remedy().isEmpty()
                && chain.gateways().size() == 1) {
            hops.set(hops.size() - 1, last.mended(renew())); // it waits on another port than the file calls
        }
        for (Door other : listener.protocol().fixedDoors()) {
            if (!other.equals(door) && !ends()) {
                Approach.walk(office, chain, listener, other).stream()
                        .filter(h -> !h.passes())
                        .findFirst()
                        .ifPresent(hops::add);
            }
        }
    }

    private String renew() {
        return "tender profile renew " + question.from().label() + ", then hand it out again";
    }

    /** Whom the file calls was walked already: one that calls an older name of the same line still gets through. */
    private void file(Listener listener, Office.Gateway gateway) {
        Office.Holding holding = question.from();
        List<Fit.Difference> differences = Fit.differences(listener, List.of(), holding);
        if (differences.isEmpty()) {
            hops.add(Hop.passes(
                    Hop.Kind.FILE, holding.label(), "the file's revision", "the file fits " + listener.name()));
            return;
        }
        Fit.Difference first = differences.get(0);
        hops.add(Hop.fails(
                        Hop.Kind.FILE,
                        holding.label(),
                        "the file's revision",
                        "the file says " + first.field() + " " + first.was() + ", " + gateway.name() + " " + first.is())
                .mended(renew()));
    }

    private void login(Listener listener, Office.Gateway gateway) {
        Office.Holding holding = question.from();
        if (holding.credentialEnds().filter(end -> !end.isAfter(office.now())).isPresent()) {
            hops.add(Hop.fails(
                            Hop.Kind.LOGIN,
                            holding.label(),
                            "the credential",
                            "the credential ended on "
                                    + holding.credentialEnds().get())
                    .mended("renew the credential of " + holding.label() + ", then hand it out again"));
            return;
        }
        if (listener.is(Attribute.ACCOUNTS, "local")) {
            Optional<Device.Account> account = gateway.device().accounts().stream()
                    .filter(a -> a.name().equals(holding.account()) && a.vpn())
                    .findFirst();
            if (account.isEmpty()) {
                hops.add(Hop.fails(
                                Hop.Kind.LOGIN,
                                gateway.name(),
                                "the local accounts",
                                gateway.name() + " has no VPN account " + holding.account())
                        .mended("add the account " + holding.account() + " on " + gateway.name()));
                return;
            }
        }
        hops.add(Hop.passes(
                Hop.Kind.LOGIN,
                gateway.name(),
                listener.get(Attribute.ACCOUNTS).map(a -> "accounts: " + a).orElse("the credential"),
                holding.credentialEnds()
                        .map(end -> "the credential holds for "
                                + Duration.between(office.now(), end).toDays() + " days more")
                        .orElse("the credential has no end")));
    }

    private void tunnelAddress(Listener listener, Office.Gateway gateway) {
        if (listener.tunnels().isEmpty()) {
            hops.add(Hop.fails(
                    Hop.Kind.TUNNEL_ADDRESS, gateway.name(), listener.name(), "the listener has no tunnel network"));
            return;
        }
        hops.add(Hop.passes(
                Hop.Kind.TUNNEL_ADDRESS,
                gateway.name(),
                listener.name(),
                "gives an address of " + listener.tunnels().get(0)));
    }

    private List<Cidr> reach(Listener listener) {
        String own = question.from().madeFor().get(Attribute.REACH);
        return own == null
                ? listener.reach()
                : listener.with(Attribute.REACH, own).reach();
    }

    private Optional<Cidr> routed(Listener listener) {
        return reach(listener).stream()
                .filter(n -> n.contains(question.to()))
                .max(java.util.Comparator.comparingInt(Cidr::prefix));
    }

    private void route(Listener listener) {
        Optional<Cidr> route = routed(listener);
        Cidr host = Cidr.host(question.to());
        hops.add(
                route.isPresent()
                        ? Hop.passes(
                                Hop.Kind.ROUTE,
                                question.from().label(),
                                "the file's reach",
                                route.get() + " goes through the tunnel")
                        : Hop.fails(
                                        Hop.Kind.ROUTE,
                                        question.from().label(),
                                        "the file's reach",
                                        question.to() + " is in none of the networks that go through the tunnel")
                                .mended("renew " + question.from().label() + " with " + home(host) + " in its reach"));
    }

    /** The recorded network that holds an address, else the address alone. */
    private Cidr home(Cidr host) {
        return office.sites().stream()
                .flatMap(s -> s.networks().stream())
                .map(Network::network)
                .filter(n -> n.contains(host))
                .findFirst()
                .orElse(host);
    }

    private void overlap(Listener listener) {
        Optional<Cidr> lan = question.place().lan();
        Cidr route = routed(listener).orElseThrow();
        boolean local = lan.filter(l -> l.contains(question.to()) && l.prefix() >= route.prefix())
                .isPresent();
        boolean clash = lan.filter(l -> listener.tunnels().stream().anyMatch(l::overlaps))
                .isPresent();
        String where = question.place().standing().word();
        if (local) {
            hops.add(Hop.fails(
                            Hop.Kind.OVERLAP,
                            where,
                            "the place's own network",
                            question.to() + " is also in the place's own network " + lan.get()
                                    + ": the device looks for it there")
                    .mended("renew " + question.from().label() + " with " + Cidr.host(question.to())
                            + " in its reach: a narrower route wins over the place's network"));
        } else if (clash) {
            hops.add(Hop.fails(
                            Hop.Kind.OVERLAP,
                            where,
                            "the place's own network",
                            "the place's network " + lan.get() + " shares addresses with the tunnel network")
                    .mended("use another line there, such as a phone's"));
        } else {
            hops.add(Hop.passes(
                    Hop.Kind.OVERLAP,
                    where,
                    "the place's own network",
                    lan.map(l -> l + " does not take the packet").orElse("the place's network is not known")));
        }
    }

    private void insideFilter(Office.Gateway gateway, Listener listener) {
        FilterRule.Packet packet = new FilterRule.Packet(
                false,
                Side.TUNNEL,
                question.door().map(Door::transport),
                question.door().map(Door::port),
                listener.tunnels().stream().findFirst().map(t -> t.first().plus(1)),
                Optional.of(question.to()));
        Filter.Decision decision = gateway.device().filter().decide(packet);
        String what = question.door().map(Door::toString).orElse("echo") + " to " + question.to();
        if (decision.allow()) {
            hops.add(Hop.passes(Hop.Kind.INSIDE_FILTER, gateway.name(), decision.by(), "lets " + what + " through"));
            return;
        }
        FilterRule rule = new FilterRule(
                true,
                false,
                Optional.of(Side.TUNNEL),
                question.door().map(Door::transport),
                question.door().map(d -> PortRange.of(d.port())).orElse(PortRange.ANY),
                Optional.empty(),
                Optional.of(Cidr.host(question.to())),
                "from the tunnel");
        hops.add(Hop.fails(
                        Hop.Kind.INSIDE_FILTER,
                        gateway.name(),
                        decision.by(),
                        decision.by() + " denies " + what + " for people in the tunnel")
                .mended(
                        gateway.name(),
                        new Change.PutRule(
                                decision.rule()
                                        .orElse(gateway.device()
                                                        .filter()
                                                        .rules()
                                                        .size()
                                                + 1),
                                rule)));
    }

    private void host(Office.Gateway gateway) {
        Optional<Office.Site> site = office.sites().stream()
                .filter(s -> s.networks().stream().anyMatch(n -> n.network().contains(question.to())))
                .findFirst();
        boolean own =
                gateway.device().networks().stream().anyMatch(n -> n.network().contains(question.to()));
        boolean here = own || site.filter(s -> s.name().equals(gateway.site())).isPresent();
        if (here) {
            hops.add(Hop.passes(
                    Hop.Kind.HOST, gateway.site(), "the site's networks", question.to() + " is at this site"));
        } else if (site.isPresent() && isJoined(gateway, site.get())) {
            hops.add(Hop.passes(
                    Hop.Kind.HOST,
                    site.get().name(),
                    "the joined sites",
                    question.to() + " is at " + site.get().name() + ", which is joined"));
        } else {
            hops.add(Hop.fails(
                            Hop.Kind.HOST,
                            gateway.site(),
                            "the site's networks",
                            site.map(s -> question.to() + " is at " + s.name() + ", and nothing joins " + gateway.site()
                                            + " to it")
                                    .orElse("no recorded network holds " + question.to()))
                    .mended(site.map(s -> "use a gateway at " + s.name() + ", or join the two sites")
                            .orElse("record the network: tender site set " + gateway.site() + " --network NAME="
                                    + Cidr.of(question.to(), question.to().isV4() ? 24 : 64))));
        }
    }

    private boolean isJoined(Office.Gateway gateway, Office.Site site) {
        return office.joined().stream()
                .anyMatch(
                        j -> reaches(j.one(), j.other(), gateway, site) || reaches(j.other(), j.one(), gateway, site));
    }

    private boolean reaches(String near, String far, Office.Gateway gateway, Office.Site site) {
        return near.equals(gateway.name())
                && office.gateway(far).filter(g -> g.site().equals(site.name())).isPresent();
    }

    private void back(Approach.Chain chain, Office.Gateway gateway, Listener listener) {
        Optional<Network> clash = office.sites().stream()
                .filter(s -> s.name().equals(gateway.site()))
                .flatMap(s -> s.networks().stream())
                .filter(n -> n.network().contains(question.to())
                        && listener.tunnels().stream().anyMatch(n.network()::overlaps))
                .findFirst();
        if (clash.isPresent()) {
            Cidr tunnel = listener.tunnels().get(0);
            Optional<Cidr> free = new FreeNetworks(office).like(tunnel);
            Hop fails = Hop.fails(
                    Hop.Kind.BACK,
                    gateway.site(),
                    "the address plan",
                    "the tunnel network " + tunnel + " shares addresses with "
                            + clash.get().network() + ": answers stay in the office");
            hops.add(
                    free.isPresent()
                            ? fails.mended(
                                    gateway.name(),
                                    new Change.SetListener(
                                            listener.name(),
                                            Map.of(Attribute.TUNNELS, free.get().toString())))
                            : fails.mended("move the tunnel network to a free one"));
            return;
        }
        Optional<Office.Gateway> before = chain.gateways().size() < 2
                ? Optional.empty()
                : Optional.of(chain.gateways().get(chain.gateways().size() - 2));
        boolean aside = before.filter(g -> g.site().equals(gateway.site())).isPresent();
        hops.add(
                aside && listener.protocol() != Protocol.L2TP_IPSEC
                        ? Hop.unknown(
                                Hop.Kind.BACK,
                                gateway.site(),
                                "the records",
                                "hosts answer through " + before.get().name() + ", which must send "
                                        + listener.tunnels().get(0) + " to " + gateway.name())
                        : Hop.passes(
                                Hop.Kind.BACK,
                                gateway.site(),
                                "the records",
                                "answers go out through " + gateway.name()));
    }
}
