package tender.core.trial;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import tender.core.network.IpAddress;
import tender.core.wire.ParseProblem;

/** What a trial was asked to show, and what it showed: the one place where a result is decided. */
public record Claims(List<Claim> all) {
    private static final String NOTHING_CAME_BACK = "nothing came back through the tunnel";

    /** What does not rest on a connection. */
    private static final Set<Claim.Kind> FIRST = EnumSet.of(Claim.Kind.FILE, Claim.Kind.CONNECTS, Claim.Kind.ANSWERS);

    public Claims {
        all = List.copyOf(all);
    }

    /**
     * Of a trial that connects.
     *
     * @param insideHost the host that should answer
     */
    public static Claims of(
            Ladder ladder, Optional<IpAddress> insideHost, MeasurementOptions wanted, Optional<Measured> measured) {
        List<Claim> out = new ArrayList<>();
        out.add(connects(ladder));
        boolean tried =
                ladder.rungs().stream().anyMatch(r -> r.rung() == Rung.ECHO && r.verdict() != Verdict.NOT_TRIED);
        insideHost.ifPresent(host -> out.add(new Claim(
                Claim.Kind.REACHES,
                holds(ladder, Rung.ECHO),
                "reaches " + host,
                tried ? "does not reach " + host : host + " was not asked")));
        wanted.insideName().ifPresent(name -> out.add(resolves(name.text(), measured.flatMap(Measured::name))));
        wanted.outside().ifPresent(at -> out.add(outside(at, measured.flatMap(Measured::exit))));
        return new Claims(out);
    }

    /** The same, of a file that its own program refuses: whatever else was shown, nobody connects with it. */
    public Claims refused(Optional<ParseProblem> refusal) {
        List<Claim> out = new ArrayList<>(refusal.stream()
                .map(p -> new Claim(Claim.Kind.FILE, false, "", "the client's program refuses the file, " + p))
                .toList());
        out.addAll(all);
        return new Claims(out);
    }

    /** Of a listener that is asked as a stranger asks. */
    public static Claims ofProbe(Ladder ladder) {
        List<Claim> out = new ArrayList<>();
        boolean answers = holds(ladder, Rung.HANDSHAKE);
        out.add(new Claim(Claim.Kind.ANSWERS, answers, "answers", "does not answer"));
        ladder.rungs().stream()
                .filter(r -> answers && r.rung() == Rung.TRUST && r.verdict() != Verdict.NOT_TRIED)
                .forEach(r -> out.add(new Claim(
                        Claim.Kind.IDENTITY,
                        r.verdict() == Verdict.OK,
                        "its certificate is believed",
                        r.causes().stream().findFirst().map(Cause::what).orElse("its certificate is not believed"))));
        return new Claims(out);
    }

    private static Claim connects(Ladder ladder) {
        Optional<RungResult> failed = ladder.failure().filter(r -> r.rung() != Rung.ECHO);
        boolean cameBack = holds(ladder, Rung.TUNNEL_ADDRESS) || holds(ladder, Rung.ECHO);
        boolean believed =
                ladder.rungs().stream().noneMatch(r -> r.rung() == Rung.TRUST && r.verdict() == Verdict.OPEN);
        boolean open = ladder.rungs().stream()
                .anyMatch(r -> (r.rung() == Rung.TUNNEL_ADDRESS || r.rung() == Rung.ECHO)
                        && r.detail().contains("not looked at"));
        String otherwise = failed.map(
                        r -> "does not connect: it fails at " + r.rung().label())
                .orElse("is not shown to connect: "
                        + (!believed
                                ? "lines that decide trust, keys or reach were not looked at"
                                : open ? "lines that decide reach were not looked at" : NOTHING_CAME_BACK));
        return new Claim(Claim.Kind.CONNECTS, failed.isEmpty() && cameBack && believed, "connects", otherwise);
    }

    private static Claim resolves(String name, Optional<Measured.InsideName> said) {
        String why = said.map(s -> s.answered()
                        ? "the name server inside, " + s.server() + ", does not know it"
                        : "the name server inside, " + s.server() + ", does not answer")
                .orElse("no name server inside was asked");
        return new Claim(
                Claim.Kind.RESOLVES,
                said.flatMap(Measured.InsideName::address).isPresent(),
                "resolves " + name,
                "does not resolve " + name + ": " + why);
    }

    private static Claim outside(IpAddress at, Optional<Exit> seen) {
        String tunnel = seen.map(e -> e.full() ? "full tunnel" : "split tunnel").orElse("way outside");
        return new Claim(
                Claim.Kind.OUTSIDE,
                seen.filter(Exit::asClaimed).isPresent(),
                tunnel + " as seen from outside",
                tunnel + " not shown: " + at + (seen.isPresent() ? " does not answer" : " was not asked"));
    }

    private static boolean holds(Ladder ladder, Rung rung) {
        return ladder.rungs().stream().anyMatch(r -> r.rung() == rung && r.verdict() == Verdict.OK);
    }

    /** Whether all that was asked for was shown. */
    public boolean areShown() {
        return all.stream().allMatch(Claim::shown);
    }

    public boolean shows(Claim.Kind kind) {
        return all.stream().anyMatch(c -> c.kind() == kind && c.shown());
    }

    /**
     * What it says of the profile: works, fails, or nothing, where what is missing is a host or a name that somebody asked
     * for, or where nothing was shown either way.
     *
     * @param recorded whether the host inside is the one that the gateway's records name
     */
    public Optional<Boolean> ofProfile(Ladder ladder, boolean recorded) {
        if (areShown()) {
            return Optional.of(true);
        }
        boolean fails = lacks(Claim.Kind.FILE)
                || ladder.failure().filter(r -> r.rung() != Rung.ECHO).isPresent()
                || recorded && ladder.failure().isPresent()
                || shows(Claim.Kind.CONNECTS) && lacks(Claim.Kind.OUTSIDE);
        return fails ? Optional.of(false) : Optional.empty();
    }

    private boolean lacks(Claim.Kind kind) {
        return all.stream().anyMatch(c -> c.kind() == kind && !c.shown());
    }

    /** The result in a line. Where nothing connects, nothing that rests on it is said: it was not tried. */
    public String words() {
        boolean further = shows(Claim.Kind.CONNECTS) || shows(Claim.Kind.ANSWERS);
        return all.stream()
                .filter(x -> further || FIRST.contains(x.kind()))
                .map(Claim::said)
                .collect(Collectors.joining("; "));
    }
}
