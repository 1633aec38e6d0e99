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
                "the records say that nothing leads from outside to the listener",
                "see the route walk; a finding with its remedy stands for it");
    }

    static <C> Row<C> serverGone(Rung rung, Predicate<C> applies) {
        return new Row<>(
                rung,
                "server-gone",
                CERTAIN,
                applies,
                "the server answered, and then nothing listened on its port any more: it ended or restarts",
                "see that it runs at the gateway, and try again");
    }

    static <C> Row<C> clockIsOdd(Predicate<C> applies) {
        return new Row<>(
                Rung.TRUST,
                "clock-differs",
                LIKELY,
                applies,
                "by this machine's clock the certificates of both sides and of their authority have all ended, or none counts yet: the clock is wrong rather than all of them",
                "set this machine's clock, and try again");
    }

    static <C> Row<C> serverCertificateEnded(Predicate<C> applies) {
        return new Row<>(
                Rung.TRUST,
                "server-certificate-ended",
                CERTAIN,
                applies,
                "the server's certificate has ended",
                "renew the listener's certificate");
    }

    static <C> Row<C> serverCertificateNotYet(Predicate<C> applies) {
        return new Row<>(
                Rung.TRUST,
                "server-certificate-not-yet",
                CERTAIN,
                applies,
                "the server's certificate does not count yet: one of the clocks is wrong",
                "compare this machine's clock with the gateway's");
    }

    /** What rows that hold for every kind of trial have to know of a case. */
    record Common<C>(
            Function<C, Observation.Name> name,
            Function<C, Observation.Path> path,
            Function<C, Optional<IpAddress>> dialled,
            Predicate<C> overUdp,
            Function<C, Optional<Circumstances>> known,
            Inside<C> inside) {
        private boolean elsewhere(C c, boolean sure) {
            return known.apply(c)
                    .map(Circumstances::around)
                    .filter(a -> a.fixed() == sure && a.isElsewhere(name.apply(c), dialled.apply(c)))
                    .isPresent();
        }

        private boolean knows(C c, Function<Surroundings, Optional<String>> what) {
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
                    "the name leads to another address than the line has",
                    "let the name follow the line at its provider; files need no change"));
            all.add(new Row<>(
                    rung,
                    "name-not-updated",
                    LIKELY,
                    c -> common.elsewhere(c, false),
                    "the name leads to another address than the line had when it was read last",
                    "see that the name follows the line, and read the gateway again"));
        }
        all.addAll(rows);
        all.add(new Row<>(
                Rung.HANDSHAKE,
                "udp-shut-here",
                POSSIBLE,
                c -> common.overUdp().test(c)
                        && common.path().apply(c) == Observation.Path.SILENT
                        && common.knows(c, Surroundings::tcpBeside),
                "the network that the caller sits in lets no udp out",
                "issue a profile for the listener on tcp beside it"));
        for (Rung rung : List.of(Rung.TUNNEL_ADDRESS, Rung.ECHO)) {
            all.add(new Row<>(
                    rung,
                    "networks-clash",
                    LIKELY,
                    c -> common.knows(c, Surroundings::clash),
                    "two networks share addresses, so that answers go astray",
                    "give one of them another network: tender finding list tells which is free"));
        }
        all.add(new Row<>(
                Rung.ECHO,
                "outside-reach",
                CERTAIN,
                c -> common.inside().named().test(c) && !common.inside().sent().test(c),
                "neither the file nor the server sends traffic for that host into the tunnel",
                "widen the profile's reach, or try another host"));
        all.add(new Row<>(
                Rung.ECHO,
                "host-silent",
                LIKELY,
                c -> common.inside().named().test(c)
                        && common.inside().gatewayAnswers().test(c),
                "the gateway answers inside the tunnel, the host does not: it is off, or does not answer echo",
                "see that the host is on, or choose another inside host for this site"));
        all.add(new Row<>(
                Rung.ECHO,
                "host-silent",
                POSSIBLE,
                c -> common.inside().named().test(c)
                        && !common.inside().gatewayAnswers().test(c),
                "the host does not answer: it is off, or nothing leads from the tunnel to its network",
                "try another inside host to tell the two apart"));
        all.add(new Row<>(
                Rung.ECHO,
                "first-hosts-silent",
                LIKELY,
                c -> !common.inside().named().test(c),
                "the tunnel is up, nobody said which host inside answers, and the first hosts of its networks do not",
                "name a host inside that answers: --inside-host ADDRESS"));
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
                        "correct the name in the file, or publish it"),
                new Row<>(
                        Rung.NAME,
                        "name-without-address",
                        CERTAIN,
                        c -> common.name().apply(c) == Observation.Name.WITHOUT_ADDRESS,
                        "the server's name exists but has no address",
                        "give the name an address record"),
                new Row<>(
                        Rung.NAME,
                        "resolver-silent",
                        CERTAIN,
                        c -> common.name().apply(c) == Observation.Name.RESOLVER_SILENT,
                        "the name server did not answer, so nothing is known about the server",
                        "check the resolver (the service's: setting resolver.address) and this machine's own line"),
                new Row<>(
                        Rung.ADDRESS,
                        "no-way-there",
                        CERTAIN,
                        c -> common.path().apply(c) == Observation.Path.UNREACHABLE,
                        "this vantage has no way to that address",
                        "try from another vantage, or correct the address"));
    }

    /** @param spoken which lines of the gateway's log can be of such a trial */
    List<Cause> at(Rung rung, C facts, Optional<Circumstances> known, Set<LogLine> spoken) {
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
        // of a server's certificate each fault is told: mending one leaves the others
        return rung == Rung.TRUST
                ? all.stream().filter(c -> c.certainty() == CERTAIN).toList()
                : List.of(all.get(0));
    }

    /** The very hop, listener or network that a row speaks of. */
    private static String where(Row<?> row, Optional<Circumstances> known) {
        Optional<String> place = switch (row.code()) {
            case "path-blocked" -> known.flatMap(Circumstances::blocked);
            case "name-not-updated" -> known.flatMap(k -> k.around().at()).map(a -> "the line is at " + a);
            case "udp-shut-here" -> known.flatMap(k -> k.around().tcpBeside()).map(t -> t + " would pass there");
            case "networks-clash" -> known.flatMap(k -> k.around().clash());
            default -> Optional.empty();
        };
        return place.map(p -> ": " + p).orElse("");
    }
}
