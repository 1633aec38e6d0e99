package tender.service.office;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.office.Office;
import tender.io.names.NameService;
import tender.service.job.JobKind;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.office.Names;

/** Asks every so often where the names lead that clients call, so that a name that is wrong is found before people are. */
public final class NameLookups implements JobKind {
    public static final String NAME = "name-lookups";
    private static final int MAX_NAMES = 2_000;

    private final Db db;
    private final Clock clock;
    private final OfficeRecords records;
    private final NameService names;

    NameLookups(Db db, Clock clock, OfficeRecords records, NameService names) {
        this.db = db;
        this.clock = clock;
        this.records = records;
        this.names = names;
    }

    /** Looks names up again and again; how often is a setting. */
    public static void ensure(Tx tx, Duration every) {
        Jobs.keepRunning(tx, NAME, every);
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        Office office = records.withoutProfiles(clock.instant());
        look(office, office.gateways().values());
    }

    /** Looks up now what one gateway is called by. */
    public void look(String gateway) {
        Office office = records.withoutProfiles(clock.instant());
        look(office, office.gateway(gateway).stream().toList());
    }

    private static Set<String> names(Collection<Office.Gateway> gateways) {
        Set<String> out = new TreeSet<>();
        for (Office.Gateway g : gateways) {
            g.hosts().stream().filter(h -> h instanceof HostName).forEach(h -> out.add(h.toString()));
            g.uplinks().forEach(u -> u.name().ifPresent(n -> out.add(n.text())));
        }
        return out;
    }

    private void look(Office office, Collection<Office.Gateway> gateways) {
        Instant now = office.now();
        Map<HostName, List<IpAddress>> known = office.names();
        names(gateways).stream().limit(MAX_NAMES).map(HostName::parse).forEach(name -> {
            NameService.Answer answer = names.lookUp(name);
            if (answer.status() == NameService.Status.SILENT) {
                return; // nobody answered: that says nothing of the name
            }
            db.run(tx -> {
                Names.put(tx, name, answer.addresses(), now);
                if (!answer.addresses().equals(known.get(name))) {
                    Events.say(tx, "name", name.text());
                }
            });
        });
    }
}
