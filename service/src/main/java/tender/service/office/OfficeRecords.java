package tender.service.office;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import tender.core.device.DeviceDescription;
import tender.core.network.Endpoint;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Device;
import tender.core.office.Disagreement;
import tender.core.office.Network;
import tender.core.office.Office;
import tender.core.office.SettingSource;
import tender.core.office.Uplink;
import tender.core.wire.MalformedException;
import tender.service.device.DeviceDescriptions;
import tender.store.backup.Backups;
import tender.store.change.DeviceChanges;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.office.Gateways;
import tender.store.office.Names;
import tender.store.office.SettingSources;
import tender.store.office.Sites;
import tender.store.profile.Revisions;

/** Puts the office together from the records in a handful of bulk reads. */
public final class OfficeRecords {
    private static final int ALL = Integer.MAX_VALUE;
    private static final String ENDPOINT = "endpoint";

    private final Db db;
    private final Gateways gateways;
    private final DeviceDescriptions descriptions;
    /** A device's document is parsed once for each reading. */
    private final Map<UUID, Parsed> parsed = new ConcurrentHashMap<>();

    private record Parsed(String text, Device device) {}

    public OfficeRecords(Db db, Gateways gateways, DeviceDescriptions descriptions) {
        this.db = db;
        this.gateways = gateways;
        this.descriptions = descriptions;
    }

    /** Everything, with what people hold; costly with many profiles. */
    public Office office(Instant now) {
        return db.inTransaction(tx -> office(tx, now, Revisions.given(tx)));
    }

    /** Sites, gateways and names alone, which is far less to read in a large company. */
    public Office withoutProfiles(Instant now) {
        return db.inTransaction(tx -> withoutProfiles(tx, now));
    }

    /** The office without what people hold, within a transaction. */
    public Office withoutProfiles(Tx tx, Instant now) {
        return office(tx, now, List.of());
    }

    /** The part of the office that endpoints at these gateways depend on, read without all the others. */
    public Office of(Tx tx, Instant now, List<UUID> gatewayIds) {
        return office(tx, now, List.of(), gateways.these(tx, gatewayIds));
    }

    private Office office(Tx tx, Instant now, List<Revisions.Given> given) {
        return office(tx, now, given, gateways.all(tx));
    }

    private Office office(Tx tx, Instant now, List<Revisions.Given> given, List<Gateways.Gateway> all) {
        List<Office.Site> sites = Sites.page(tx, "", ALL).stream()
                .map(s -> new Office.Site(
                        s.id().toString(),
                        s.name(),
                        s.domain(),
                        s.timeZone(),
                        s.networks().entrySet().stream()
                                .map(n -> Network.plain(n.getKey(), n.getValue()))
                                .toList()))
                .toList();
        Map<UUID, Instant> backups = Backups.newest(
                        tx, all.stream().map(Gateways.Gateway::id).toList())
                .stream()
                .collect(Collectors.toMap(Backups.Backup::gatewayId, Backups.Backup::takenAt));
        Map<UUID, Integer> drift = DeviceChanges.driftCounts(tx);
        Map<UUID, Integer> temporary = DeviceChanges.temporaryCounts(tx);
        Map<UUID, List<Disagreement>> disagreements =
                disagreements(tx, all.stream().map(Gateways.Gateway::id).toList());
        Map<String, Office.Gateway> byName = new LinkedHashMap<>();
        for (Gateways.Gateway g : all) {
            byName.put(
                    g.name(),
                    gateway(
                            g,
                            Optional.ofNullable(backups.get(g.id())),
                            drift.getOrDefault(g.id(), 0),
                            temporary.getOrDefault(g.id(), 0),
                            disagreements.getOrDefault(g.id(), List.of())));
        }
        return new Office(
                now,
                sites,
                byName,
                Gateways.joined(tx).stream()
                        .map(j -> new Office.Joined(j.one(), j.other()))
                        .toList(),
                given.stream().map(OfficeRecords::issued).toList(),
                Names.all(tx));
    }

    /**
     * An office with some gateways, and all names, as the records have them now; sites stay as they were.
     *
     * @param issuedAt gateways whose issued profiles are read anew, too
     */
    public Office refreshed(Office before, Set<UUID> gatewayIds, Set<UUID> issuedAt, Instant now) {
        return db.inTransaction(tx -> {
            Map<UUID, Instant> backups = Backups.newest(tx, gatewayIds).stream()
                    .collect(Collectors.toMap(Backups.Backup::gatewayId, Backups.Backup::takenAt));
            Map<UUID, Integer> drift = DeviceChanges.driftCounts(tx);
            Map<UUID, Integer> temporary = DeviceChanges.temporaryCounts(tx);
            Map<UUID, List<Disagreement>> disagreements = disagreements(tx, gatewayIds);
            Map<String, Office.Gateway> all = new LinkedHashMap<>(before.gateways());
            // one that was removed is not there anew, and one that was renamed goes by another name
            all.values().removeIf(g -> gatewayIds.contains(UUID.fromString(g.id())));
            Set<String> anew = new HashSet<>();
            for (Gateways.Gateway g : gateways.these(tx, gatewayIds)) {
                all.put(
                        g.name(),
                        gateway(
                                g,
                                Optional.ofNullable(backups.get(g.id())),
                                drift.getOrDefault(g.id(), 0),
                                temporary.getOrDefault(g.id(), 0),
                                disagreements.getOrDefault(g.id(), List.of())));
                if (issuedAt.contains(g.id())) {
                    anew.add(g.name());
                }
            }
            List<Office.IssuedProfile> issuedProfiles = before.issuedProfiles();
            if (!issuedAt.isEmpty()) {
                issuedProfiles = new ArrayList<>(issuedProfiles.stream()
                        .filter(h -> !anew.contains(h.gateway()))
                        .toList());
                for (Revisions.Given given : Revisions.given(tx, issuedAt)) {
                    issuedProfiles.add(issued(given));
                }
            }
            return new Office(
                    now,
                    before.sites(),
                    all,
                    Gateways.joined(tx).stream()
                            .map(j -> new Office.Joined(j.one(), j.other()))
                            .toList(),
                    issuedProfiles,
                    Names.all(tx));
        });
    }

    /** The names of those of the gateways that an office has. */
    public Set<String> names(Set<UUID> gatewayIds, Office office) {
        Set<String> ids = gatewayIds.stream().map(UUID::toString).collect(Collectors.toSet());
        return office.gateways().values().stream()
                .filter(g -> ids.contains(g.id()))
                .map(Office.Gateway::name)
                .collect(Collectors.toSet());
    }

    private Office.Gateway gateway(
            Gateways.Gateway g, Optional<Instant> backup, int drift, int temporary, List<Disagreement> disagreements) {
        return new Office.Gateway(
                g.id().toString(),
                g.name(),
                g.site(),
                g.kind(),
                g.identityAccepted(),
                g.reading().at(),
                g.reading().problem(),
                backup,
                device(g),
                uplinks(g),
                g.hosts(),
                Office.Factory.valueOf(g.factory().toUpperCase(Locale.ROOT).replace('-', '_')),
                oldestRelease(g.description()),
                drift,
                temporary,
                g.isManual(),
                disagreements);
    }

    /** Of each setting the newest that is known beside what a trial saw. */
    private static Map<UUID, List<Disagreement>> disagreements(Tx tx, Collection<UUID> gatewayIds) {
        List<SettingSources.Said> said = SettingSources.differing(tx, gatewayIds);
        Map<UUID, List<Disagreement>> out = new HashMap<>();
        for (SettingSources.Said seen : said) {
            if (seen.source() == SettingSource.TRIAL) {
                said.stream()
                        .filter(k -> k.source() != SettingSource.TRIAL
                                && k.gatewayId().equals(seen.gatewayId())
                                && k.listener().equals(seen.listener())
                                && k.setting() == seen.setting())
                        .findFirst()
                        .filter(k -> Disagreement.differ(seen.setting(), k.value(), seen.value()))
                        .ifPresent(k -> out.computeIfAbsent(seen.gatewayId(), g -> new ArrayList<>())
                                .add(new Disagreement(
                                        seen.listener(),
                                        seen.setting(),
                                        k.value(),
                                        k.source(),
                                        seen.value(),
                                        seen.at())));
            }
        }
        return out;
    }

    private Optional<String> oldestRelease(String description) {
        return DeviceDescription.names(description).stream()
                .flatMap(name -> Optional.ofNullable(descriptions.shipped().get(name)).stream())
                .flatMap(shipped -> shipped.oldestRelease().stream())
                .findFirst();
    }

    /** What the gateway said of itself when last read. */
    public Device device(Gateways.Gateway g) {
        if (g.device().isEmpty()) {
            return Device.UNREAD;
        }
        Parsed known = parsed.get(g.id());
        if (known == null || !known.text().equals(g.device().get())) {
            known = new Parsed(
                    g.device().get(), OfficeDocuments.DEVICE.read(g.device().get()));
            parsed.put(g.id(), known);
        }
        return known.device();
    }

    /** How a gateway is reached, as operators say; empty where nobody did. */
    public static List<Uplink> uplinks(Gateways.Gateway g) {
        return OfficeDocuments.UPLINKS.read(g.uplinks());
    }

    /** What somebody holds, by what its file was made for. */
    public static Office.IssuedProfile issued(Revisions.Given given) {
        Map<String, String> stored = given.madeFor();
        Map<Attribute, String> madeFor = new EnumMap<>(Attribute.class);
        stored.forEach((word, value) -> Attribute.ofWord(word).ifPresent(a -> madeFor.put(a, value)));
        return new Office.IssuedProfile(
                given.profileId().toString(),
                given.label(),
                given.person().orElse(given.label()),
                given.handle().orElse(""),
                given.gateway(),
                given.listener(),
                madeFor,
                endpoints(stored),
                given.refreshes(),
                given.ends());
    }

    private static List<Endpoint> endpoints(Map<String, String> stored) {
        List<Endpoint> out = new ArrayList<>();
        Transport transport = "tcp".equals(stored.get(Attribute.TRANSPORT.word())) ? Transport.TCP : Transport.UDP;
        for (String text : stored.getOrDefault(ENDPOINT, "").split("\\s*,\\s*")) {
            try {
                if (!text.isEmpty()) {
                    out.add(Endpoint.parse(text, transport));
                }
            } catch (MalformedException e) {
                return List.of(); // an exported file may call nonsense; that is found when it is inspected
            }
        }
        return out;
    }
}
