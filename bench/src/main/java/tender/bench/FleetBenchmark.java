package tender.bench;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import tender.core.finding.Findings;
import tender.core.network.AddressSet;
import tender.core.network.Cidr;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.ListenerChange;
import tender.core.office.Office;
import tender.standins.fleet.Fleet;

/** 500 gateways, 2,000 listeners, 50,000 handed-out profiles: everything judged, and judged again after one change. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
public class FleetBenchmark {
    private Office office;
    private Office other;
    private Findings kept;
    private boolean turned;
    private final List<Cidr> holes4 = new ArrayList<>();
    private final List<Cidr> holes6 = new ArrayList<>();

    @Setup
    public void setUp() {
        office = Fleet.office(500, 50_000);
        Office.Gateway g = office.gateway("gw250").orElseThrow();
        other = office.with(g.with(Change.apply(
                g.device(), List.of(new ListenerChange.SetListener("wg0", Map.of(Attribute.PORT, "40000"))))));
        kept = Findings.of(office);
        System.out.println("findings: " + kept.all().size());
        for (int i = 0; i < 100; i++) {
            holes4.add(Cidr.parse("10." + (i * 2) + ".7.0/24"));
            holes6.add(Cidr.parse("2001:db8:" + Integer.toHexString(i * 2) + "::/48"));
        }
    }

    @Benchmark
    public Object everythingJudged() {
        return Findings.of(office);
    }

    @Benchmark
    public Object judgedAgainAfterOneChange() {
        turned = !turned;
        kept.changed(turned ? other : office, List.of("gw250"));
        return kept;
    }

    @Benchmark
    public Object everythingV4WithoutHundredSubnets() {
        return AddressSet.without(Cidr.EVERYTHING_V4, holes4);
    }

    @Benchmark
    public Object everythingV6WithoutHundredSubnets() {
        return AddressSet.without(Cidr.EVERYTHING_V6, holes6);
    }
}
