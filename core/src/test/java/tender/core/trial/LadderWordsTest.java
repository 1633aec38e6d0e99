package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.Written;
import tender.core.ike.IkeClient;
import tender.core.network.IpAddress;
import tender.core.profile.IkeConnection;
import tender.core.trial.Observation.Echo;
import tender.core.trial.Observation.Handshake;
import tender.core.trial.Observation.Name;
import tender.core.trial.Observation.Path;

/** What a ladder says at each rung, with causes and remedies, in every case of the tables; held against {@code ladders.txt}. */
class LadderWordsTest {
    private static final Written WRITTEN = Written.in("trial/ladders.txt");

    private record Case(String name, Supplier<Ladder> ladder) {
        @Override
        public String toString() {
            return name;
        }
    }

    private static final class Cases {
        private final Map<String, Case> all = new LinkedHashMap<>();

        private void add(String name, Supplier<Ladder> ladder) {
            String fresh = name;
            for (int n = 2; all.containsKey(fresh); n++) {
                fresh = name + " (" + n + ")";
            }
            all.put(fresh, new Case(fresh, ladder));
        }
    }

    private static void openVpn(Cases out, String name, Consumer<OpenVpnCausesTest.Row> set) {
        OpenVpnCausesTest.Row row = new OpenVpnCausesTest.Row(Rung.ECHO, "", Certainty.CERTAIN);
        set.accept(row);
        out.add("OpenVPN, " + name, row::judged);
    }

    private static void ike(Cases out, String name, Consumer<IkeCausesTest.Row> set) {
        IkeCausesTest.Row row = new IkeCausesTest.Row(Rung.ECHO, "", Certainty.CERTAIN);
        set.accept(row);
        out.add("IKEv2, " + name, row::judged);
    }

    private static void wireGuard(Cases out, String name, Observation seen, TrialContext known) {
        out.add(
                "WireGuard, " + name,
                () -> Ladder.judge(
                        LadderTest.question("10.20.4.0/24"), seen, Optional.empty(), Optional.ofNullable(known)));
    }

    private static final List<FirstHosts> FIRST = List.of(
            new FirstHosts(List.of(IpAddress.parse("10.20.4.1")), Optional.empty()),
            new FirstHosts(List.of(IpAddress.parse("10.20.4.1"), IpAddress.parse("10.20.0.53")), Optional.empty()),
            new FirstHosts(
                    List.of(IpAddress.parse("10.20.4.1"), IpAddress.parse("10.20.0.53")),
                    Optional.of(IpAddress.parse("10.20.0.53"))));

    static List<Case> cases() {
        Cases out = new Cases();
        OpenVpnCausesTest.rows().forEach(r -> out.add("OpenVPN, " + r, r::judged));
        openVpn(out, "all well", r -> {});
        openVpn(out, "a bridged tunnel where the file has none", r -> r.bridged = true);
        openVpn(out, "a bridged tunnel as the file says", r -> {
            r.bridged = true;
            r.lines = "dev tap\n";
            r.gateway = Echo.NOT_TRIED;
            r.inside = Echo.NOT_TRIED;
        });
        openVpn(out, "the gateway keeps silent, the host answers", r -> r.gateway = Echo.SILENT);
        openVpn(out, "the gateway was not asked, the host answers", r -> r.gateway = Echo.NOT_TRIED);
        openVpn(out, "no address", r -> {
            r.address = Optional.empty();
            r.gateway = Echo.NOT_TRIED;
            r.inside = Echo.NOT_TRIED;
        });
        openVpn(out, "over TCP, the name an address", r -> {
            r.transport = "tcp";
            r.name = Name.LITERAL;
        });
        openVpn(out, "through a proxy", r -> {
            r.transport = "tcp";
            r.lines = "http-proxy 192.0.2.80 8080\n";
        });
        openVpn(
                out,
                "through a SOCKS proxy on its usual port",
                r -> r.lines = "socks-proxy proxy.skerrivane.example\n");
        openVpn(out, "an alert of the server", r -> {
            r.upTo(OpenVpnSeen.Stage.ANSWERED);
            r.chain = House.shown(House.OURS, House.SERVER, -9, 90);
            r.broken = Optional.of("alert of the server: bad_certificate");
        });
        openVpn(out, "no TLS", r -> {
            r.upTo(OpenVpnSeen.Stage.ANSWERED);
            r.broken = Optional.of("what the server said is not understood: x");
        });
        openVpn(out, "another name that the file does not look at", r -> {
            r.chain = House.shown(House.OURS, "old.skerrivane.example", -9, 90);
        });
        ike(out, "all well", r -> {});
        for (IkeConnection.Proof proof : IkeConnection.Proof.values()) {
            ike(out, "all well by " + proof, r -> r.proof = proof);
        }
        for (IkeClient.Stage stage : IkeClient.Stage.values()) {
            ike(out, "nothing after " + stage, r -> r.upTo(stage));
        }
        ike(out, "port 4500 is shut", r -> r.natPath = Path.SILENT);
        ike(out, "port 4500 refuses", r -> r.natPath = Path.REFUSED);
        ike(out, "port 500 is shut", r -> r.path = Path.SILENT);
        ike(out, "the gateway keeps silent, the host answers", r -> r.gateway = Echo.SILENT);
        ike(out, "the gateway was not asked, the host answers", r -> r.gateway = Echo.NOT_TRIED);
        ike(out, "the name an address", r -> r.name = Name.LITERAL);
        IkeCausesTest.rows().forEach(r -> out.add("IKEv2, " + r, r::judged));
        LadderTest.rows()
                .forEach(a -> out.add(
                        "WireGuard, " + a.get()[3] + " " + a.get()[4] + " " + a.get()[5],
                        () -> Ladder.judge(
                                LadderTest.question((String) a.get()[2]),
                                (Observation) a.get()[0],
                                Optional.ofNullable((GatewayEvidence) a.get()[1]))));
        LadderTest.recorded()
                .forEach(a -> wireGuard(
                        out,
                        "recorded " + a.get()[2] + " " + a.get()[3] + " " + a.get()[4],
                        (Observation) a.get()[0],
                        (TrialContext) a.get()[1]));
        Handshake up = Handshake.ESTABLISHED;
        wireGuard(
                out, "all well", LadderTest.seen(Name.RESOLVED, Path.ANSWERED, up, Echo.ANSWERED, Echo.ANSWERED), null);
        wireGuard(
                out,
                "an address, and the gateway alone",
                LadderTest.seen(Name.LITERAL, Path.ANSWERED, up, Echo.ANSWERED, Echo.SILENT),
                null);
        for (FirstHosts first : FIRST) {
            out.add(
                    "WireGuard, no host named: " + first.words(),
                    () -> Ladder.judge(
                            LadderTest.unnamed(), LadderTest.asked(first), Optional.empty(), Optional.empty()));
            ike(out, "no host named: " + first.words(), r -> {
                r.host = Optional.empty();
                r.gateway = Echo.NOT_TRIED;
                r.first = first;
            });
        }
        wireGuard(
                out,
                "a cookie",
                LadderTest.seen(Name.RESOLVED, Path.ANSWERED, Handshake.UNDER_LOAD, Echo.NOT_TRIED, Echo.NOT_TRIED),
                null);
        List<String> log = List.of(
                "12:00:00 Handshake for peer 3 (192.0.2.7:51820) did not complete after 5 seconds, retrying (try 2)",
                "12:00:01 TLS Error: cannot locate HMAC in incoming packet from [AF_INET]192.0.2.7:1194",
                "12:00:02 VERIFY ERROR: depth=0, error=certificate revoked: CN=somebody-else");
        wireGuard(
                out, "nothing comes, and the log speaks of others too", LadderTest.silence(), TrialContext.ofLog(log));
        openVpn(out, "nothing comes, and the log speaks of others too", r -> {
            r.upTo(OpenVpnSeen.Stage.CALLING);
            r.known = Optional.of(TrialContext.ofLog(log));
        });
        ProbeLadderTest.rows().forEach(a -> out.add("Probe, " + a.get()[3] + " " + a.get()[4], () -> probed(a)));
        out.add(
                "Probe, somebody answers",
                () -> ProbeLadder.judge(
                        ProbeLadderTest.probe(ReachabilityProbe.Kind.TLS),
                        ProbeLadderTest.seen(
                                Name.RESOLVED,
                                Path.ANSWERED,
                                true,
                                House.shown(House.OURS, "portal.skerrivane.example", -9, 90)),
                        Optional.empty()));
        for (ReachabilityProbe.Kind kind : ReachabilityProbe.Kind.values()) {
            out.add(
                    "Probe, " + kind + " at an address answers without a certificate",
                    () -> ProbeLadder.judge(
                            ProbeLadderTest.probe(kind),
                            ProbeLadderTest.seen(Name.LITERAL, Path.ANSWERED, true, List.of()),
                            Optional.empty()));
        }
        return List.copyOf(out.all.values());
    }

    private static Ladder probed(Arguments a) {
        return ProbeLadder.judge(
                ProbeLadderTest.probe((ReachabilityProbe.Kind) a.get()[0]),
                (ProbeSeen) a.get()[1],
                Optional.ofNullable((TrialContext) a.get()[2]));
    }

    private static String told(Case c) {
        Ladder ladder = c.ladder().get();
        StringBuilder out =
                new StringBuilder(ladder.isProven() ? "proven\n" : ladder.isAnswered() ? "answered\n" : "not proven\n");
        for (RungResult r : ladder.rungs()) {
            if (r.verdict() == Verdict.NOT_TRIED) {
                assertThat(r.detail()).isEmpty();
                continue;
            }
            out.append(String.format(
                    "%-5s %s, %d ms: %s%n",
                    r.verdict(), r.rung().label(), r.millis(), r.detail().replaceAll("[0-9a-f]{64}", "DIGEST")));
            r.causes()
                    .forEach(x -> out.append("    ")
                            .append(x.certainty())
                            .append(' ')
                            .append(x.code())
                            .append(": ")
                            .append(x.what())
                            .append("\n        ")
                            .append(x.remedy())
                            .append('\n'));
        }
        return out.toString();
    }

    @ParameterizedTest
    @MethodSource("cases")
    void eachRungSaysWhatWasSeenAndEachCauseWhatToDo(Case c) {
        WRITTEN.holds(c.name(), told(c));
    }

    @Test
    void everyCaseIsWrittenOnce() {
        Map<String, String> all = new LinkedHashMap<>();
        cases().forEach(c -> all.put(c.name(), told(c)));
        WRITTEN.holdsExactly(all);
    }

    @Test
    void rungsHaveLabelsAndMeanings() {
        assertThat(Stream.of(Rung.values()).map(Rung::label))
                .doesNotHaveDuplicates()
                .allMatch(l -> l.matches("[a-z ]+"));
        assertThat(Stream.of(Rung.values()).map(Rung::meaning))
                .doesNotHaveDuplicates()
                .noneMatch(String::isBlank);
    }
}
