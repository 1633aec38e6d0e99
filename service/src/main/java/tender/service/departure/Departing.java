package tender.service.departure;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Protocol;
import tender.service.office.OfficeRecords;
import tender.service.profile.Withdrawing;
import tender.service.provision.EndedDevices;
import tender.service.refusal.Refused;
import tender.store.departure.Departures;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.person.People;
import tender.store.profile.FileRequests;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;

/** Ends everything of a person who leaves, or of a device that is lost, in one transaction. */
final class Departing {
    private static final Set<String> SHARED_KEYS = Set.of("auth", "crypt");

    private final Db db;
    private final Gateways gateways;
    private final OfficeRecords records;
    private final Withdrawing withdrawing;

    Departing(Db db, Gateways gateways, OfficeRecords records, Withdrawing withdrawing) {
        this.db = db;
        this.gateways = gateways;
        this.records = records;
        this.withdrawing = withdrawing;
    }

    /** Who leaves, or whose device is lost. */
    record Whose(String handle, Optional<String> device) {}

    record Ending(Profiles.Profile profile, String how) {}

    /**
     * What ends.
     *
     * @param secrets that everybody at a listener shares and that they know
     */
    record Plan(People.Person person, Optional<People.Device> device, List<Ending> endings, List<String> secrets) {}

    Plan plan(Whose whose) {
        return db.inTransaction(tx -> plan(tx, whose));
    }

    /**
     * Carries it out.
     *
     * @throws Refused where there is nothing of theirs to end, or something is being written
     */
    UUID order(Whose whose, By by) {
        return db.inTransaction(tx -> {
            Plan plan = plan(tx, whose);
            if (plan.endings().isEmpty()) {
                throw new Refused(
                        Refused.Kind.CONFLICT,
                        whose.device()
                                        .map(d -> whose.handle() + "'s " + d + " has")
                                        .orElse(whose.handle() + " has")
                                + " no profile that is not withdrawn; tender departure list shows what is not proven yet");
            }
            UUID id = Ids.next();
            Departures.insert(
                    tx,
                    new Departures.Order(
                            id, plan.person().id(), plan.device().map(People.Device::id), by.actor(), by.at()),
                    plan.endings().stream().map(e -> e.profile().id()).toList());
            for (Ending e : plan.endings()) {
                if (e.profile().state() != ProfileState.CLOSING && e.profile().state() != ProfileState.WITHDRAWING) {
                    withdrawing.withdrawToBeShown(tx, e.profile().id(), by);
                }
            }
            List<UUID> devices =
                    devices(tx, plan).stream().map(People.Device::id).toList();
            FileRequests.forget(tx, devices);
            EndedDevices.end(tx, devices);
            RefusalCheck.soon(tx, id);
            Events.say(tx, "person", plan.person().id());
            Journal.append(
                    tx,
                    by,
                    plan.device().isPresent() ? "device-lost" : "person-left",
                    "person",
                    plan.person().id(),
                    plan.device().map(d -> d.name() + ", ").orElse("")
                            + plan.endings().size() + " profiles");
            return id;
        });
    }

    private static List<People.Device> devices(Tx tx, Plan plan) {
        return plan.device()
                .map(List::of)
                .orElseGet(() -> People.devices(tx, List.of(plan.person().id())));
    }

    private Plan plan(Tx tx, Whose whose) {
        People.Person person = People.byHandle(tx, whose.handle()).orElseThrow(() -> Refused.notFound("person"));
        Optional<People.Device> device = whose.device()
                .map(name -> People.device(tx, person.id(), name).orElseThrow(() -> Refused.notFound("device")));
        List<Ending> endings = new ArrayList<>();
        Set<String> secrets = new LinkedHashSet<>();
        for (Profiles.Profile p : Profiles.ofPerson(tx, person.id())) {
            boolean theirs = device.isEmpty() || p.deviceId().equals(device.map(People.Device::id));
            if (theirs && p.state() != ProfileState.WITHDRAWN) {
                endings.add(new Ending(p, withdrawing.words(tx, p)));
                gateways.byId(tx, p.gatewayId())
                        .flatMap(g -> records.device(g).listener(p.listener()))
                        .flatMap(l -> shared(p, l))
                        .ifPresent(secrets::add);
            }
        }
        return new Plan(person, device, endings, List.copyOf(secrets));
    }

    /** A secret that everybody at the listener has: whoever leaves goes on knowing it. */
    private static Optional<String> shared(Profiles.Profile p, Listener l) {
        String place = p.gateway() + " " + p.listener();
        if (l.protocol() == Protocol.L2TP_IPSEC) {
            return Optional.of("the pre-shared key of " + place);
        }
        return l.get(Attribute.CONTROL_CHANNEL_KEY)
                .filter(SHARED_KEYS::contains)
                .map(kind -> "the control-channel key of " + place);
    }
}
