package tender.service.provision;

import java.net.URI;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Passphrase;
import tender.core.credential.PasswordHash;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.handout.LinkToken;
import tender.core.network.AddressKinds;
import tender.core.network.Host;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.provision.SigningKey;
import tender.core.walk.Approach;
import tender.core.walk.Called;
import tender.core.wire.MalformedException;
import tender.io.provision.ProvisioningFile;
import tender.service.node.Node;
import tender.service.office.ListenerChoice;
import tender.service.office.OfficeRecords;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Installation;
import tender.store.office.Listeners;
import tender.store.person.People;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.provision.Provisions;

/** Makes provisioning files, and ends what devices joined with. */
final class Provisioning {
    /** The most bytes that a QR code holds (ISO/IEC 18004, version 40, level L). */
    private static final int MAX_BYTES = 2_953;

    private final Node node;
    private final Gateways gateways;
    private final OfficeRecords records;
    private final SecureRandom random = new SecureRandom();

    Provisioning(Node node, Gateways gateways, OfficeRecords records) {
        this.node = node;
        this.gateways = gateways;
        this.records = records;
    }

    /** Whose device. */
    record Target(String person, String device) {
        @Override
        public String toString() {
            return person + "/" + device;
        }
    }

    /** A gateway, and the listener where it has several. */
    record Place(String gateway, Optional<String> listener) {}

    /**
     * What is wanted.
     *
     * @param team in place of devices
     * @param places in order of priority; empty: where the device has profiles
     */
    record Order(
            List<Target> devices,
            Optional<String> team,
            List<Place> places,
            List<URI> services,
            Duration life,
            boolean code) {}

    /** A file that was made; {@code codes} by handle. */
    record Made(
            UUID id,
            Optional<Target> device,
            Optional<String> team,
            String fileName,
            Instant ends,
            List<String> gateways,
            Map<String, Secret> codes,
            Secret file) {}

    /** Fingerprint of the key that signs. */
    String signer() {
        return node.db().inTransaction(tx -> key(tx).verifying().fingerprint());
    }

    private SigningKey key(Tx tx) {
        return SigningKey.of(Installation.signerKey(tx, UUID.fromString(node.installation()), node.cipher(), random));
    }

    /** What {@link #make} would make; nothing of it is kept. */
    List<Made> rehearse(Order order, By by) {
        return node.db().rehearse(tx -> make(tx, order, by));
    }

    /** @throws Refused where somebody or something named is not there, or there is nothing to issue */
    List<Made> make(Order order, By by) {
        return node.db().inTransaction(tx -> make(tx, order, by));
    }

    private List<Made> make(Tx tx, Order order, By by) {
        Common common =
                new Common(records.withoutProfiles(by.at()), key(tx), ServiceAuthority.fingerprints(node.settings()));
        List<Made> out = new ArrayList<>();
        if (order.team().isPresent()) {
            String team = order.team().get();
            List<People.Person> members = People.ofTeam(tx, team);
            if (members.isEmpty()) {
                throw new Refused(Refused.Kind.NOT_FOUND, "there is nobody in a team " + team, "team");
            }
            out.add(one(tx, order, common, new For(members, Optional.empty(), Optional.of(team)), by));
        }
        for (Target t : order.devices()) {
            People.Person person = People.byHandle(tx, t.person())
                    .orElseThrow(
                            () -> new Refused(Refused.Kind.NOT_FOUND, "there is no person " + t.person(), "devices"));
            People.Device device = People.device(tx, person.id(), t.device())
                    .orElseThrow(() -> new Refused(
                            Refused.Kind.NOT_FOUND, t.person() + " has no device " + t.device(), "devices"));
            out.add(one(tx, order, common, new For(List.of(person), Optional.of(device), Optional.empty()), by));
        }
        return out;
    }

    /** What all files of one call share. */
    private record Common(Office office, SigningKey key, List<String> authorities) {}

    /** Who joins with a file: one person with one device, or the members of a team. */
    private record For(List<People.Person> people, Optional<People.Device> device, Optional<String> team) {
        String words() {
            return team.map(t -> "team " + t)
                    .orElseGet(() -> people.get(0).handle() + "/" + device.get().name());
        }
    }

    private Made one(Tx tx, Order order, Common common, For whom, By by) {
        List<Listeners.Listener> listeners = listeners(tx, order, whom);
        Secret token = LinkToken.generate(random);
        UUID id = Ids.next();
        Instant ends = Instant.ofEpochSecond(by.at().plus(order.life()).getEpochSecond());
        Map<String, Secret> codes = new LinkedHashMap<>();
        Map<UUID, String> hashes = new LinkedHashMap<>();
        if (order.code() || whom.team().isPresent()) {
            for (People.Person p : whom.people()) {
                Secret code = Passphrase.generate(random);
                codes.put(p.handle(), code);
                hashes.put(p.id(), PasswordHash.make(code, node.settings().passwordMemory(), random));
            }
        }
        ProvisioningFile file = new ProvisioningFile(
                order.services(),
                token,
                ends,
                !codes.isEmpty(),
                whom.device().map(d -> whom.people().get(0).handle()),
                whom.device().map(People.Device::name),
                whom.team(),
                listeners.stream().map(l -> told(common.office(), l)).toList(),
                common.authorities());
        String text = checked(file, common.key());
        Provisions.insert(
                tx,
                new Provisions.Draft(
                        id,
                        LinkToken.digest(token),
                        whom.device().map(People.Device::personId),
                        whom.device().map(People.Device::id),
                        whom.team(),
                        by.actor(),
                        by.at(),
                        ends,
                        hashes,
                        listeners.stream().map(Listeners.Listener::id).toList()));
        Events.say(tx, "provision", id);
        Journal.append(tx, by, "provisioning-file-made", "provision", id, whom.words());
        return new Made(
                id,
                whom.device().map(d -> new Target(whom.people().get(0).handle(), d.name())),
                whom.team(),
                (whom.team().isPresent()
                                ? whom.team().get()
                                : whom.people().get(0).handle() + "-"
                                        + whom.device().get().name())
                        + ".tender",
                ends,
                listeners.stream().map(l -> l.gateway() + "/" + l.name()).toList(),
                codes,
                Secret.of(text));
    }

    /** Signs it and reads it as a device will, before it leaves. */
    private static String checked(ProvisioningFile file, SigningKey key) {
        String text = file.sign(key);
        ProvisioningFile.Signed read = ProvisioningFile.read(text);
        boolean same = read.signer().equals(key.verifying())
                && read.file()
                        .token()
                        .revealText(RevealSecret.TO_COMPARE)
                        .equals(file.token().revealText(RevealSecret.TO_COMPARE));
        if (!same) {
            throw new IllegalStateException("a provisioning file does not read as it was written");
        }
        if (text.length() > MAX_BYTES) {
            throw new Refused(
                    Refused.Kind.MALFORMED,
                    "the file has " + text.length() + " bytes and fits no QR code (" + MAX_BYTES
                            + "); name fewer gateways or services",
                    "gateways");
        }
        return text;
    }

    private List<Listeners.Listener> listeners(Tx tx, Order order, For whom) {
        if (!order.places().isEmpty()) {
            return order.places().stream().map(p -> listener(tx, p)).toList();
        }
        List<Listeners.Listener> has = whom.device()
                .map(d -> Profiles.ofPerson(tx, d.personId()).stream()
                        .filter(p -> p.deviceId().equals(Optional.of(d.id())) && p.state() == ProfileState.READY)
                        .flatMap(p -> Listeners.byId(tx, p.listenerId()).stream())
                        .toList())
                .orElse(List.of());
        if (has.isEmpty()) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    whom.words()
                            + (whom.team().isPresent()
                                    ? ": name the gateways"
                                    : " has no profile yet: name the gateways")
                            + " that whoever joins gets profiles of (--gateway)",
                    "gateways");
        }
        return has;
    }

    private Listeners.Listener listener(Tx tx, Place place) {
        Gateways.Gateway gateway = gateways.byName(tx, place.gateway())
                .orElseThrow(() ->
                        new Refused(Refused.Kind.NOT_FOUND, "there is no gateway " + place.gateway(), "gateways"));
        return ListenerChoice.of(gateway.name(), Listeners.of(tx, List.of(gateway.id())), place.listener());
    }

    private static ProvisioningFile.Gateway told(Office office, Listeners.Listener l) {
        Optional<Office.Gateway> gateway = office.gateway(l.gateway());
        Optional<Listener> listener = gateway.flatMap(g -> g.device().listener(l.name()));
        String endpoint = listener.flatMap(known ->
                        Called.endpoints(Approach.chain(office, gateway.get()), known).stream()
                                .findFirst())
                .map(Object::toString)
                .orElse("");
        return new ProvisioningFile.Gateway(l.gateway(), l.protocol(), endpoint);
    }

    /** What whoever hands files out should know of the addresses in them. */
    static List<String> notes(List<URI> services) {
        return services.stream()
                .filter(s -> isOnlyHere(s) || s.getScheme().equals("http"))
                .map(
                        s -> isOnlyHere(s)
                                ? s
                                        + " is an address of this machine alone: devices elsewhere do not reach it; set staff.base-url, or name --service"
                                : s
                                        + " is not encrypted: profiles are sealed to each device all the same, but names and times can be read on the way")
                .toList();
    }

    private static boolean isOnlyHere(URI service) {
        try {
            return service.getHost().equals("localhost")
                    || Host.parse(service.getHost().replaceAll("[\\[\\]]", "")) instanceof Host.Literal literal
                            && AddressKinds.isLocalOnly(literal.address());
        } catch (MalformedException e) {
            return false;
        }
    }

    /** @throws Refused where there is none */
    void withdraw(UUID id, By by) {
        node.db().run(tx -> {
            Provisions.byId(tx, id).orElseThrow(() -> Refused.notFound("provision"));
            Provisions.withdraw(tx, id, by.at());
            Events.say(tx, "provision", id);
            Journal.append(tx, by, "provisioning-file-withdrawn", "provision", id, "");
        });
    }

    /**
     * Ends what a device joined with: it is told when it asks next, removes its files, and has to join anew.
     *
     * @throws Refused where there is no such device, or it has not joined
     */
    void end(Target whose, By by) {
        node.db().run(tx -> {
            People.Person person = People.byHandle(tx, whose.person()).orElseThrow(() -> Refused.notFound("person"));
            People.Device device =
                    People.device(tx, person.id(), whose.device()).orElseThrow(() -> Refused.notFound("device"));
            if (EndedDevices.end(tx, List.of(device.id())).isEmpty()) {
                throw new Refused(Refused.Kind.CONFLICT, whose + " does not keep itself current");
            }
            Journal.append(tx, by, "device-ended", "person", person.id(), device.name());
        });
    }
}
