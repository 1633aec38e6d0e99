package tender.service.profile;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.credential.TunnelKey;
import tender.core.network.Cidr;
import tender.core.office.Attribute;
import tender.core.office.Protocol;
import tender.service.office.ListenerChoice;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.office.Sites;
import tender.store.person.People;
import tender.store.profile.ListenerProfiles;
import tender.store.profile.ProfileGrants;
import tender.store.profile.ProfileOrigin;
import tender.store.profile.Profiles;

/**
 * Makes profiles in the records, and says what is wanted on the gateway. One transaction holds all of it together with the job
 * that carries it out, so that a kill leaves either nothing or everything to be carried out.
 */
public final class Issuing {
    private static final int MAX_MANY = 10_000;

    private final Db db;
    private final Gateways gateways;
    private final ProfileKinds kinds;

    public Issuing(Db db, Gateways gateways, ProfileKinds kinds) {
        this.db = db;
        this.gateways = gateways;
        this.kinds = kinds;
    }

    /** @throws Refused where there is no such person, device, gateway or listener, or one profile there already */
    public Outcome issue(IssueOrder order, By by) {
        return db.inTransaction(tx -> issue(tx, order, by));
    }

    /** The profile that {@link #issue} would make; nothing of it is kept. */
    public Profiles.Profile rehearse(IssueOrder order, By by) {
        return db.rehearse(tx -> issue(tx, order, by)).profile();
    }

    private Outcome issue(Tx tx, IssueOrder order, By by) {
        People.Person person = People.byHandle(tx, order.person())
                .orElseThrow(() -> new Refused(Refused.Kind.NOT_FOUND, "there is no such person", "person"));
        People.Device device = People.device(tx, person.id(), order.device())
                .orElseThrow(
                        () -> new Refused(Refused.Kind.NOT_FOUND, person.handle() + " has no such device", "device"));
        Gateways.Gateway gateway = gateway(tx, order.gateway());
        Listeners.Listener listener = listener(tx, gateway, order.listener());
        ListenerProfiles.present(tx, device.id(), listener.id()).ifPresent(label -> {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "this device has the profile " + label + " for that listener already; renew or withdraw it",
                    "device");
        });
        order.publicKey().ifPresent(key -> refuseShared(tx, listener, key));
        Sites.Site site = Sites.byId(tx, gateway.siteId()).orElseThrow();
        Grant rule = new Grant.Rules(tx, site, listener).of(person.team());
        Optional<Grant> said = said(order.said(), site, listener, rule);
        Grant granted = said.orElse(rule);
        ProfileMaker maker = new ProfileMaker(tx, kinds, listener, by);
        checkFits(tx, maker, listener, order);
        UUID id = maker.make(
                wanted(
                        device,
                        ProfileMaker.label(tx, person.handle() + "-" + device.name() + "-" + gateway.name()),
                        person.handle(),
                        listener,
                        order.publicKey(),
                        granted),
                order.access(),
                granted.until(order.ends(), by.at()));
        said.ifPresent(s -> ProfileGrants.explicit(tx, id));
        order.ends().ifPresent(end -> ProfileGrants.expiryExplicit(tx, id));
        Optional<UUID> job = maker.order();
        return new Outcome(Profiles.byId(tx, id).orElseThrow(), job);
    }

    private static ProfilePlan wanted(
            People.Device device,
            String label,
            String who,
            Listeners.Listener listener,
            Optional<TunnelKey> madeOnDevice,
            Grant granted) {
        return new ProfilePlan(
                Optional.of(device.id()),
                label,
                ProfileOrigin.ISSUED,
                who,
                device.name(),
                listener,
                madeOnDevice,
                granted.reach(),
                granted.fullTunnel(),
                granted.dns(),
                granted.takesPushed());
    }

    private Gateways.Gateway gateway(Tx tx, String name) {
        return gateways.byName(tx, name)
                .orElseThrow(() -> new Refused(Refused.Kind.NOT_FOUND, "there is no such gateway", "gateway"));
    }

    /** What was said for this profile alone; empty where the rules of the listener count. */
    private static Optional<Grant> said(
            IssueOrder.Said said, Sites.Site site, Listeners.Listener listener, Grant rule) {
        if (said.isNothing()) {
            return Optional.empty();
        }
        Optional<List<Cidr>> reach = said.reach();
        boolean full = said.fullTunnel().orElse(false);
        return Optional.of(new Grant(
                full || reach.isPresent() || said.fullTunnel().isPresent()
                        ? Planning.reach(full, reach, site, listener)
                        : rule.reach(),
                full,
                said.dns().isEmpty() ? rule.dns() : said.dns(),
                reach.isEmpty() && said.fullTunnel().isEmpty() && rule.takesPushed(),
                rule.life()));
    }

    private void checkFits(Tx tx, ProfileMaker maker, Listeners.Listener listener, IssueOrder order) {
        if (maker.way() != AuthenticationMethods.AuthenticationMethod.KEY
                && order.publicKey().isPresent()) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "a device's own key comes as a request; tender authority sign takes it",
                    "publicKey");
        }
        if (maker.way() == AuthenticationMethods.AuthenticationMethod.CERTIFICATE
                && order.access().makeAccount()) {
            refuseNoAccount(tx, listener);
        }
        if (listener.protocol().equals(Protocol.PPTP.word())
                && order.access().reason().isEmpty()) {
            // it is broken, so that somebody has to say why it is handed out all the same
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "PPTP is broken and is not handed out without a stated reason: --reason 'WHY'",
                    "reason");
        }
    }

    /** An account beside a certificate is made only where the listener asks for both, and keeps its accounts itself. */
    private void refuseNoAccount(Tx tx, Listeners.Listener listener) {
        String kept =
                kinds.certificates.facts(tx, listener).get(Attribute.ACCOUNTS).orElse("none");
        if (!kept.equals("local")) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    kept.equals("none")
                            ? listener.name() + " asks for no account beside the certificate"
                            : listener.name() + " has its accounts in a " + kept + ", where Tender makes none",
                    "makeAccount");
        }
    }

    /** One key, one device: a key that any living profile or the listener itself uses is refused. */
    private static void refuseShared(Tx tx, Listeners.Listener listener, TunnelKey key) {
        boolean shared = key.toString().equals(listener.publicKey())
                || !ListenerProfiles.users(tx, listener.id(), List.of(key.toString()))
                        .isEmpty();
        if (shared) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    "this key is in use already; every device has a key of its own",
                    "publicKey");
        }
    }

    /** What came of issuing to many: labels, the one job that writes the gateway, and those who have one already. */
    public record Many(List<String> issued, Optional<UUID> job, List<String> present) {}

    /** Issues to every device that has no profile there yet: one transaction, one write at the gateway. */
    public Many issueMany(IssueManyOrder order, By by) {
        return db.inTransaction(tx -> {
            Lacking lacking = lacking(tx, order);
            Listeners.Listener listener = lacking.listener();
            Grant.Rules rules = new Grant.Rules(
                    tx, Sites.byId(tx, lacking.gateway().siteId()).orElseThrow(), listener);
            ProfileMaker maker = new ProfileMaker(tx, kinds, listener, by);
            boolean account = order.makeAccounts()
                    && (maker.way() == AuthenticationMethods.AuthenticationMethod.ACCOUNT
                            || maker.way() == AuthenticationMethods.AuthenticationMethod.CERTIFICATE
                                    && kinds.asksBoth(tx, listener));
            IssueOrder.Access access = IssueOrder.Access.usual(account);
            for (People.Device d : lacking.devices()) {
                People.Person holder = lacking.people().get(d.personId());
                Grant granted = rules.of(holder.team());
                UUID id = maker.make(
                        wanted(d, lacking.label(d), holder.handle(), listener, Optional.empty(), granted),
                        access,
                        granted.until(order.ends(), by.at()));
                order.ends().ifPresent(end -> ProfileGrants.expiryExplicit(tx, id));
            }
            return new Many(lacking.labels(), maker.order(), lacking.present());
        });
    }

    /** Whom {@link #issueMany} would issue to; nothing is made. */
    public Many planMany(IssueManyOrder order) {
        return db.inTransaction(tx -> {
            Lacking lacking = lacking(tx, order);
            return new Many(lacking.labels(), Optional.empty(), lacking.present());
        });
    }

    /** Devices that have no profile at a listener, with whose they are, and the labels of those that have one. */
    private record Lacking(
            Gateways.Gateway gateway,
            Listeners.Listener listener,
            Map<UUID, People.Person> people,
            List<People.Device> devices,
            List<String> present) {
        String label(People.Device d) {
            return Issuing.label(people, d, gateway);
        }

        List<String> labels() {
            return devices.stream().map(this::label).toList();
        }
    }

    private static String label(Map<UUID, People.Person> people, People.Device d, Gateways.Gateway gateway) {
        return people.get(d.personId()).handle() + "-" + d.name() + "-" + gateway.name();
    }

    private Lacking lacking(Tx tx, IssueManyOrder order) {
        Gateways.Gateway gateway = gateway(tx, order.gateway());
        Listeners.Listener listener = listener(tx, gateway, order.listener());
        if (kinds.way(tx, listener) == AuthenticationMethods.AuthenticationMethod.ACCOUNT && !order.makeAccounts()) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    listener.name()
                            + " asks for accounts: let Tender create them (--make-account), or tell them one by one: tender profile issue",
                    "listener");
        }
        Map<UUID, People.Person> people =
                order.team().map(team -> People.ofTeam(tx, team)).orElseGet(() -> People.all(tx)).stream()
                        .collect(Collectors.toMap(People.Person::id, p -> p));
        List<People.Device> devices = People.devices(tx, people.keySet());
        if (devices.size() > MAX_MANY) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    devices.size() + " devices are more than go in one write, " + MAX_MANY + "; issue team by team",
                    "team");
        }
        Set<UUID> have = ListenerProfiles.devicesAt(tx, listener.id());
        List<People.Device> without = new ArrayList<>();
        List<String> present = new ArrayList<>();
        for (People.Device d : devices) {
            if (have.contains(d.id())) {
                present.add(label(people, d, gateway));
            } else {
                without.add(d);
            }
        }
        return new Lacking(gateway, listener, people, without, present);
    }

    /** The listener that is meant, locked until the transaction ends. */
    static Listeners.Listener listener(Tx tx, Gateways.Gateway gateway, Optional<String> name) {
        Listeners.Listener meant = ListenerChoice.of(gateway.name(), Listeners.of(tx, List.of(gateway.id())), name);
        return Listeners.locked(tx, meant.id()).orElseThrow();
    }
}
