package tender.service.importing;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import java.util.function.Function;
import java.util.stream.Collectors;
import tender.core.inspect.Inspection;
import tender.core.office.Office;
import tender.core.proposal.ClientFile;
import tender.core.proposal.Proposal;
import tender.core.proposal.Proposing;
import tender.core.repair.Repaired;
import tender.service.gateway.ManualGateways;
import tender.service.office.OfficeRecords;
import tender.service.profile.ImportedProfiles;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Sites;
import tender.store.person.People;
import tender.store.profile.Archives;
import tender.store.profile.FileRequests;

/**
 * Imports client files of gateways that nobody entered yet: sites, gateways managed by hand with their listeners, people and
 * devices are created of what the files show, in one transaction with the profiles.
 */
public final class ProposedImport {
    private static final int MOST_REQUESTS = 10_000;
    private static final String UTC = "UTC";
    private static final String COMPANY = "company";

    private final Db db;
    private final OfficeRecords records;
    private final Gateways gateways;
    private final ManualGateways manual;
    private final Archives archives;
    private final ImportedProfiles profiles;

    public ProposedImport(
            Db db,
            OfficeRecords records,
            Gateways gateways,
            ManualGateways manual,
            Archives archives,
            ImportedProfiles profiles) {
        this.db = db;
        this.records = records;
        this.gateways = gateways;
        this.manual = manual;
        this.archives = archives;
        this.profiles = profiles;
    }

    /**
     * Files to import.
     *
     * @param files contents by name or path
     * @param unlocking opens locked key stores
     * @param decision why dangerous lines may stay; without it a file with such lines is held back
     */
    public record Order(
            Map<String, byte[]> files,
            Proposal.Corrections corrections,
            Optional<Unlocking> unlocking,
            Optional<String> decision) {}

    /**
     * What came, or would come, of an order.
     *
     * @param others files that are no client files
     */
    public record Done(Proposal proposal, List<FileImport> files, List<Inspection> others) {}

    /** @throws Refused where no client file is in it */
    public Done importFiles(Order order, By by) {
        return db.inTransaction(work(order, by));
    }

    /** What {@link #importFiles} would do; nothing of it is kept. */
    Done rehearse(Order order, By by) {
        return db.rehearse(work(order, by));
    }

    private Function<Tx, Done> work(Order order, By by) {
        ClientFile.Found found =
                ClientFile.read(order.files(), order.unlocking().map(Unlocking::passphrase), by.at());
        if (found.clients().isEmpty()) {
            throw new Refused(
                    Refused.Kind.MALFORMED, "none of these is a client file of OpenVPN, WireGuard or IKEv2", "files");
        }
        return tx -> {
            Proposal proposal = Proposing.of(found, known(tx, by), order.corrections());
            Map<String, UUID> ids = create(tx, proposal, by);
            List<FileImport> files = files(tx, proposal, ids, order, by);
            keep(tx, proposal, ids, order, by);
            return new Done(proposal, files, found.others());
        };
    }

    private Proposal.Known known(Tx tx, By by) {
        Set<String> byHand = gateways.all(tx).stream()
                .filter(Gateways.Gateway::isManual)
                .map(Gateways.Gateway::name)
                .collect(Collectors.toSet());
        List<People.Person> people = People.all(tx);
        Map<UUID, List<People.Device>> devices =
                People.devices(tx, people.stream().map(People.Person::id).toList()).stream()
                        .collect(Collectors.groupingBy(People.Device::personId));
        return new Proposal.Known(
                records.withoutProfiles(tx, by.at()),
                byHand,
                people.stream()
                        .map(p -> new Proposal.Person(
                                p.handle(),
                                p.name(),
                                devices.getOrDefault(p.id(), List.of()).stream()
                                        .map(d -> new Proposal.Device(d.name(), d.kind(), true))
                                        .toList(),
                                true))
                        .toList(),
                FileRequests.all(tx, MOST_REQUESTS).stream()
                        .collect(Collectors.groupingBy(
                                FileRequests.FileRequest::gateway,
                                Collectors.mapping(r -> r.handle() + "/" + r.device(), Collectors.toSet()))));
    }

    /** Creates what is not there yet; gives the gateways' ids by name. */
    private Map<String, UUID> create(Tx tx, Proposal proposal, By by) {
        for (Proposal.Site s : proposal.sites()) {
            if (!s.exists()) {
                UUID id = Ids.next();
                Sites.insert(tx, new Sites.Site(id, s.name(), s.name(), COMPANY, UTC, s.networks(), 1));
                Events.say(tx, "site", id);
                Journal.append(tx, by, "site-added", "site", id, s.name());
            }
        }
        Map<String, UUID> ids = new HashMap<>();
        for (Proposal.Gateway g : proposal.gateways()) {
            if (g.exists()) {
                UUID id = gateways.byName(tx, g.name()).orElseThrow().id();
                manual.addFromFiles(tx, id, g.listeners(), by);
                ids.put(g.name(), id);
            } else {
                Sites.Site site = Sites.byName(tx, g.site()).orElseThrow();
                ids.put(
                        g.name(),
                        manual.add(
                                tx, site, new ManualGateways.Order(g.name(), g.kind(), g.hosts(), g.listeners()), by));
            }
        }
        people(tx, proposal, by);
        return ids;
    }

    private static void people(Tx tx, Proposal proposal, By by) {
        for (Proposal.Person p : proposal.people()) {
            UUID id = p.exists() ? People.byHandle(tx, p.handle()).orElseThrow().id() : person(tx, p, by);
            p.devices().stream()
                    .filter(d -> !d.exists())
                    .forEach(d -> People.insert(
                            tx, new People.Device(Ids.next(), id, p.handle(), d.name(), d.kind(), "", 1)));
            Events.say(tx, "person", id);
        }
    }

    private static UUID person(Tx tx, Proposal.Person p, By by) {
        UUID id = Ids.next();
        People.insert(
                tx, new People.Person(id, p.handle(), p.name(), "", Optional.empty(), Optional.empty(), 0, by.at(), 1));
        Journal.append(tx, by, "person-added", "person", id, "");
        return id;
    }

    /** The files of each listener together, so that what is the same for all of them is looked at once. */
    private List<FileImport> files(Tx tx, Proposal proposal, Map<String, UUID> ids, Order order, By by) {
        Office office = records.of(tx, by.at(), List.copyOf(ids.values()));
        Map<String, ImportRun> runs = new HashMap<>();
        List<FileImport> out = new ArrayList<>();
        for (Proposal.File f : proposal.files()) {
            if (f.listener().isEmpty()) {
                out.add(new FileImport(
                        f.file(),
                        Optional.empty(),
                        new Repaired(f.file().text(), List.of()),
                        new FileImport.Declined(
                                f.gateway() + " has no listener with the port, and the key, that this file"
                                        + " knows; read " + f.gateway() + " again, or ask for a new file")));
                continue;
            }
            ImportRun run = runs.computeIfAbsent(
                    f.gateway() + " " + f.listener().get(),
                    k -> new ImportRun(
                            tx,
                            office,
                            new ImportOrder(
                                    gateways.byId(tx, ids.get(f.gateway())).orElseThrow(),
                                    f.listener(),
                                    "",
                                    new byte[0],
                                    Map.of(),
                                    RefusedRepairs.of(List.of()),
                                    order.unlocking(),
                                    order.decision()),
                            profiles,
                            by));
            out.add(run.of(f.file(), f.owner()));
        }
        return out;
    }

    /** Keeps what was given, as it came, with each gateway that some of it belongs to. */
    private void keep(Tx tx, Proposal proposal, Map<String, UUID> ids, Order order, By by) {
        Map<String, Map<String, byte[]>> given = new TreeMap<>();
        for (Proposal.File f : proposal.files()) {
            String path = f.file().path();
            order.files().entrySet().stream()
                    .filter(e ->
                            order.files().size() == 1 || path.equals(e.getKey()) || path.startsWith(e.getKey() + "/"))
                    .forEach(e -> given.computeIfAbsent(f.gateway(), g -> new LinkedHashMap<>())
                            .put(e.getKey(), e.getValue()));
        }
        given.forEach((gateway, files) -> {
            UUID id = ids.get(gateway);
            files.forEach((name, content) -> archives.put(tx, new Archives.Archive(id, name, content), by));
            Journal.append(
                    tx, by, "files-imported", "gateway", id, files.size() + " files with nothing entered before");
        });
    }
}
