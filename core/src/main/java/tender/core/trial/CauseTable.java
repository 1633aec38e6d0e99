package tender.core.trial;

import static tender.core.trial.Certainty.CERTAIN;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Predicate;

/**
 * A table of causes: for each rung, when a cause applies, how sure it is, and what to do. All rows that apply at the failing
 * rung are given, surest first; a certain one hides the rest.
 */
record CauseTable<C>(List<CauseTable.Row<C>> rows) {
    record Row<C>(Rung rung, String code, Certainty certainty, Predicate<C> applies, String what, String remedy) {}

    CauseTable {
        rows = List.copyOf(rows);
    }

    /** The rows that every kind of trial over sockets begins with. */
    static <C> List<Row<C>> begin(Function<C, Observation.Name> name, Function<C, Observation.Path> path) {
        return List.of(
                new Row<>(
                        Rung.NAME,
                        "name-unknown",
                        CERTAIN,
                        c -> name.apply(c) == Observation.Name.UNKNOWN,
                        "the server's name does not exist",
                        "correct the name in the file, or publish it"),
                new Row<>(
                        Rung.NAME,
                        "name-without-address",
                        CERTAIN,
                        c -> name.apply(c) == Observation.Name.WITHOUT_ADDRESS,
                        "the server's name exists but has no address",
                        "give the name an address record"),
                new Row<>(
                        Rung.NAME,
                        "resolver-silent",
                        CERTAIN,
                        c -> name.apply(c) == Observation.Name.RESOLVER_SILENT,
                        "the name server did not answer, so nothing is known about the server",
                        "check the resolver and this machine's own line"),
                new Row<>(
                        Rung.ADDRESS,
                        "no-way-there",
                        CERTAIN,
                        c -> path.apply(c) == Observation.Path.UNREACHABLE,
                        "this vantage has no way to that address",
                        "try from another vantage, or correct the address"));
    }

    /** The same table with rows before its own. */
    CauseTable<C> after(List<Row<C>> first) {
        List<Row<C>> all = new ArrayList<>(first);
        all.addAll(rows);
        return new CauseTable<>(all);
    }

    List<Cause> at(Rung rung, C facts, Optional<Circumstances> known) {
        List<Cause> all = new ArrayList<>();
        rows.stream()
                .filter(row -> row.rung() == rung && row.applies().test(facts))
                .map(row -> new Cause(row.code(), row.certainty(), row.what() + where(row, known), row.remedy()))
                .forEach(all::add);
        boolean settled = all.stream().anyMatch(c -> c.certainty() == CERTAIN);
        if (!settled) {
            // the log of that moment settles what the wire left open
            known.map(e -> LogLine.read(e.log())).orElse(List.of()).stream()
                    .filter(r -> r.meaning().rung() == rung) // other callers' troubles stand there too
                    .forEach(r -> all.add(new Cause(
                            r.meaning().cause().code(),
                            r.meaning().cause().certainty(),
                            r.meaning().cause().what() + " (the gateway's log: " + r.line() + ")",
                            r.meaning().cause().remedy())));
        }
        all.sort(Comparator.comparing(Cause::certainty));
        return !all.isEmpty() && all.get(0).certainty() == CERTAIN ? List.of(all.get(0)) : all;
    }

    /** The very hop that is shut. */
    private static String where(Row<?> row, Optional<Circumstances> known) {
        return row.code().equals("path-blocked")
                ? known.flatMap(Circumstances::blocked).map(b -> ": " + b).orElse("")
                : "";
    }
}
