package tender.core.trial;

import static tender.core.trial.Certainty.CERTAIN;
import static tender.core.trial.Certainty.LIKELY;
import static tender.core.trial.Certainty.POSSIBLE;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import tender.core.network.IpAddress;

/**
 * A table of causes: for each rung, when a cause applies, how sure it is, and what to do. All rows that apply at the failing
 * rung are given, surest first; a certain one hides the rest.
 */
record CauseTable<C>(List<CauseTable.Row<C>> rows) {
    record Row<C>(Rung rung, String code, Certainty certainty, Predicate<C> applies, String what, String remedy) {}

    CauseTable {
        rows = List.copyOf(rows);
    }

    /** The same with a cause that is told behind all others of its rung. */
    CauseTable<C> and(Row<C> last) {
        List<Row<C>> all = new ArrayList<>(rows);
        all.add(last);
        return new CauseTable<>(all);
    }

    /**
     * What rows of the last rung have to know of a case.
     *
     * @param sent whether packets for the host go into the tunnel
     */
    record Inside<C>(Predicate<C> named, Predicate<C> sent, Predicate<C> gatewayAnswers) {
        /** Of trials that never come so far. */
        static <C> Inside<C> none() {
            return new Inside<>(c -> true, c -> true, c -> true);
        }
    }

    /** The records show the way from outside shut. */
    static <C> Row<C> pathBlocked(Rung rung, Predicate<C> applies) {
        return new Row<>(
                rung,
                "path-blocked",
                CERTAIN,
                applies,
                "according to the records, no path leads from outside to the listener",
                "see the route walk; a finding names the fix");
    }

    static <C> Row<C> serverGone(Rung rung, Predicate<C> applies) {
        return new Row<>(
                rung,
                "server-gone",
                CERTAIN,
                applies,
                "the server answered, then stopped listening: it ended or restarts",
                "check that it runs on the gateway, then try again");
    }

    static <C> Row<C> clockIsOdd(Predicate<C> applies) {
        return new Row<>(
                Rung.TRUST,
                "clock-differs",
                LIKELY,
                applies,
                "by this machine's clock the certificates of both sides and of their authority have all ended, or none counts yet: the clock is wrong rather than all of them",
                "set this machine's clock, then try again");
    }

    static <C> Row<C> serverCertificateEnded(Predicate<C> applies) {
        return new Row<>(
                Rung.TRUST,
                "server-certificate-expired",
                CERTAIN,
                applies,
                "the server's certificate has expired",
                "renew the listener's certificate");
    }

    static <C> Row<C> serverCertificateNotYet(Predicate<C> applies) {
        return new Row<>(
                Rung.TRUST,
                "server-certificate-not-yet",
                CERTAIN,
                applies,
                "the server's certificate is not valid yet: one of the clocks is wrong",
                "compare this machine's clock with the gateway's");
    }

    /** What rows that hold for every kind of trial have to know of a case. */
    record Common<C>(
            Function<C, Observation.Name> name,
            Function<C, Observation.Path> path,
            Function<C, Optional<IpAddress>> dialled,
            Predicate<C> overUdp,
            Function<C, Optional<TrialContext>> known,
            Inside<C> inside) {
        private boolean elsewhere(C c, boolean sure) {
            return known.apply(c)
                    .map(TrialContext::around)
                    .filter(a -> a.fixed() == sure && a.isElsewhere(name.apply(c), dialled.apply(c)))
                    .isPresent();
        }

        private boolean knows(C c, Function<EndpointRecords, Optional<String>> what) {
            return known.apply(c).flatMap(k -> what.apply(k.around())).isPresent();
        }
    }

    /** The same table with the rows before it that every kind of trial begins with, and after it those of the surroundings. */
    CauseTable<C> with(Common<C> common) {
        List<Row<C>> all = new ArrayList<>(names(common));
        for (Rung rung : List.of(Rung.PORT, Rung.HANDSHAKE, Rung.TRUST)) {
            all.add(new Row<>(
                    rung,
                    "name-not-updated",
                    CERTAIN,
                    c -> common.elsewhere(c, true),
                    "the name resolves to another address than the uplink's",
                    "update the DNS record (or dynamic DNS) at the provider; client files need no change"));
            all.add(new Row<>(
                    rung,
                    "name-not-updated",
                    LIKELY,
                    c -> common.elsewhere(c, false),
                    "the name resolves to another address than the uplink had at the last reading",
                    "check that the name follows the uplink, then read the gateway again"));
        }
        all.addAll(rows);
        all.add(new Row<>(
                Rung.HANDSHAKE,
                "udp-shut-here",
                POSSIBLE,
                c -> common.overUdp().test(c)
                        && common.path().apply(c) == Observation.Path.SILENT
                        && common.knows(c, EndpointRecords::tcpBeside),
                "the network that the client is in blocks outgoing udp",
                "issue a profile for a listener on tcp"));
        for (Rung rung : List.of(Rung.TUNNEL_ADDRESS, Rung.ECHO)) {
            all.add(new Row<>(
                    rung,
                    "networks-clash",
                    LIKELY,
                    c -> common.knows(c, EndpointRecords::clash),
                    "two networks overlap, so replies go to the wrong place",
                    "move one of them to another network: tender finding list shows a free one"));
        }
        all.add(new Row<>(
                Rung.ECHO,
                "outside-reach",
                CERTAIN,
                c -> common.inside().named().test(c) && !common.inside().sent().test(c),
                "neither the file nor the server routes that host through the tunnel",
                "widen the profile's reach, or try another host"));
        all.add(new Row<>(
                Rung.ECHO,
                "host-silent",
                LIKELY,
                c -> common.inside().named().test(c)
                        && common.inside().gatewayAnswers().test(c),
                "the gateway answers inside the tunnel, the host does not: it is off, or does not answer ping",
                "check that the host is on, or set another inside host for this site"));
        all.add(new Row<>(
                Rung.ECHO,
                "host-silent",
                POSSIBLE,
                c -> common.inside().named().test(c)
                        && !common.inside().gatewayAnswers().test(c),
                "the host does not answer: it is off, or there is no route from the tunnel to its network",
                "try another inside host to find out which"));
        all.add(new Row<>(
                Rung.ECHO,
                "first-hosts-silent",
                LIKELY,
                c -> !common.inside().named().test(c),
                "the tunnel is up, no inside host is set, and the first hosts of its networks do not answer",
                "set an inside host that answers: --inside-host ADDRESS"));
        return new CauseTable<>(all);
    }

    private static <C> List<Row<C>> names(Common<C> common) {
        return List.of(
                new Row<>(
                        Rung.NAME,
                        "name-unknown",
                        CERTAIN,
                        c -> common.name().apply(c) == Observation.Name.UNKNOWN,
                        "the server's name does not exist",
                        "correct the name in the file, or add it in DNS"),
                new Row<>(
                        Rung.NAME,
                        "name-without-address",
                        CERTAIN,
                        c -> common.name().apply(c) == Observation.Name.WITHOUT_ADDRESS,
                        "the server's name exists in DNS but has no address",
                        "add an address record for the name"),
                new Row<>(
                        Rung.NAME,
                        "resolver-silent",
                        CERTAIN,
                        c -> common.name().apply(c) == Observation.Name.RESOLVER_SILENT,
                        "the DNS server did not answer, so Tender could not resolve the name",
                        "check the resolver (the service's: setting resolver.address) and this machine's network"),
                new Row<>(
                        Rung.ADDRESS,
                        "no-way-there",
                        CERTAIN,
                        c -> common.path().apply(c) == Observation.Path.UNREACHABLE,
                        "this vantage has no route to that address",
                        "try from another vantage, or correct the address"));
    }

    /** @param spoken which lines of the gateway's log can be of such a trial */
    List<Cause> at(Rung rung, C facts, Optional<TrialContext> known, Set<LogLine> spoken) {
        List<Cause> all = new ArrayList<>();
        rows.stream()
                .filter(row -> row.rung() == rung && row.applies().test(facts))
                .map(row -> new Cause(row.code(), row.certainty(), row.what() + where(row, known), row.remedy()))
                .forEach(all::add);
        boolean settled = all.stream().anyMatch(c -> c.certainty() == CERTAIN);
        if (!settled) {
            // the log of that moment settles what the wire left open
            known.map(e -> LogLine.read(e.log())).orElse(List.of()).stream()
                    .filter(r -> spoken.contains(r.meaning()))
                    .filter(r -> r.meaning().rung() == rung) // other callers' troubles stand there too
                    .forEach(r -> all.add(new Cause(
                            r.meaning().cause().code(),
                            r.meaning().cause().certainty(),
                            r.meaning().cause().what() + " (the gateway's log: " + r.line() + ")",
                            r.meaning().cause().remedy())));
        }
        all.sort(Comparator.comparing(Cause::certainty));
        if (all.isEmpty() || all.get(0).certainty() != CERTAIN) {
            return all;
        }
        // of a server's certificate each fault is told: fixing one leaves the others
        return rung == Rung.TRUST
                ? all.stream().filter(c -> c.certainty() == CERTAIN).toList()
                : List.of(all.get(0));
    }

    /** The very hop, listener or network that a row speaks of. */
    private static String where(Row<?> row, Optional<TrialContext> known) {
        Optional<String> place = switch (row.code()) {
            case "path-blocked" -> known.flatMap(TrialContext::blocked);
            case "name-not-updated" -> known.flatMap(k -> k.around().at()).map(a -> "the uplink is at " + a);
            case "udp-shut-here" -> known.flatMap(k -> k.around().tcpBeside()).map(t -> t + " would pass there");
            case "networks-clash" -> known.flatMap(k -> k.around().clash());
            default -> Optional.empty();
        };
        return place.map(p -> ": " + p).orElse("");
    }
}
