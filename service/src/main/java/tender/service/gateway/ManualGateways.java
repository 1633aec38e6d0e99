package tender.service.gateway;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.credential.Secret;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.Port;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.Listener;
import tender.core.office.Protocol;
import tender.core.office.SettingSource;
import tender.service.office.OfficeDocuments;
import tender.service.office.OfficeRecords;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.office.SettingSources;
import tender.store.office.Sites;

/** Gateways that people manage by hand: what is known of their listeners is what people enter or client files show. */
public final class ManualGateways {
    private static final Host NOWHERE = new HostName("managed-by-hand.invalid");
    private static final Port UNUSED = new Port(22);
    private static final String IDENTITY = "managed-by-hand";
    private static final String ANY_DESCRIPTION = "plain-router";

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final OfficeRecords records;
    private final GatewayReading reading;

    ManualGateways(Db db, Clock clock, Gateways gateways, OfficeRecords records, GatewayReading reading) {
        this.clock = clock;
        this.db = db;
        this.gateways = gateways;
        this.records = records;
        this.reading = reading;
    }

    /**
     * A gateway as people know it.
     *
     * @param kind router, nas or firewall
     * @param hosts what clients call, in order
     */
    public record Order(String name, String kind, List<Host> hosts, List<Listener> listeners) {}

    /** @throws Refused where there is no such site, or a gateway of that name */
    UUID add(Optional<String> siteName, Order order, By by) {
        return db.inTransaction(tx -> {
            Sites.Site site = SiteOfGateway.of(tx, siteName, by);
            if (gateways.byName(tx, order.name()).isPresent()) {
                throw new Refused(Refused.Kind.CONFLICT, "there is a gateway of this name already", "name");
            }
            return add(tx, site, order, by);
        });
    }

    /** Adds a gateway with the listeners that are known of it, in a transaction. */
    public UUID add(Tx tx, Sites.Site site, Order order, By by) {
        Gateways.Gateway g = new Gateways.Gateway(
                Ids.next(),
                site.id(),
                site.name(),
                order.name(),
                order.kind(),
                new Gateways.Management(
                        Gateways.MANUAL,
                        NOWHERE,
                        UNUSED,
                        order.name(),
                        IDENTITY,
                        false,
                        ANY_DESCRIPTION,
                        true,
                        "key",
                        Optional.empty()),
                Gateways.OperatorSettings.of(Optional.empty(), order.hosts()),
                Gateways.LastReading.NEVER,
                by.at(),
                1);
        gateways.insert(tx, g, Secret.of(""));
        gateways.acceptIdentity(tx, g.id(), IDENTITY, g.version()); // there is nobody's key to compare
        Journal.append(tx, by, "gateway-added", "gateway", g.id(), order.name() + ", managed by hand");
        write(tx, g.id(), Device.UNREAD.withListeners(order.listeners()), by.at());
        order.listeners()
                .forEach(l -> SettingSources.put(tx, g.id(), l.name(), l.values(), SettingSource.FILES, by.at()));
        return g.id();
    }

    /**
     * Adds listeners that client files show, in a transaction.
     *
     * @throws Refused where the gateway is read from its device
     */
    public void addFromFiles(Tx tx, UUID gatewayId, List<Listener> listeners, By by) {
        if (!listeners.isEmpty()) {
            put(tx, gatewayId, listeners, by);
            listeners.forEach(
                    l -> SettingSources.put(tx, gatewayId, l.name(), l.values(), SettingSource.FILES, by.at()));
        }
    }

    /** Adds listeners, or puts them in the place of those of the same names. */
    private void put(Tx tx, UUID gatewayId, List<Listener> listeners, By by) {
        Device device = device(tx, gatewayId);
        for (Listener l : listeners) {
            device = device.withListener(l);
            Journal.append(tx, by, "listener-entered", "gateway", gatewayId, l.name());
        }
        write(tx, gatewayId, device, by.at());
    }

    /**
     * Enters what a listener of a gateway is set to.
     *
     * @param values settings to change; an empty text removes what was known
     * @throws Refused where the gateway is read from its device
     */
    public void enter(UUID gatewayId, String name, Map<Attribute, String> values, By by) {
        db.run(tx -> {
            Listener listener = device(tx, gatewayId)
                    .listener(name)
                    .orElseGet(() -> new Listener(
                            name, Map.of(Attribute.PROTOCOL, values.getOrDefault(Attribute.PROTOCOL, ""))));
            for (Map.Entry<Attribute, String> e : values.entrySet()) {
                listener = e.getValue().isBlank()
                        ? listener.without(e.getKey())
                        : listener.with(e.getKey(), e.getValue().strip());
            }
            put(tx, gatewayId, List.of(listener), by);
            Map<Attribute, String> entered = new EnumMap<>(Attribute.class);
            listener.values().forEach((a, value) -> {
                if (values.containsKey(a)) {
                    entered.put(a, value);
                }
            });
            SettingSources.forget(
                    tx, gatewayId, name, values.keySet()); // who enters it knows what trials and files say
            SettingSources.put(tx, gatewayId, name, entered, SettingSource.ENTERED, by.at());
        });
    }

    /**
     * Somebody made changes at the device: what is known of it is changed with them, as entered by whoever says so.
     *
     * @throws tender.core.wire.MalformedException where a change does not fit what is known by now
     */
    public void made(Tx tx, UUID gatewayId, List<Change> changes, By by) {
        Device before = device(tx, gatewayId);
        Device after = Change.apply(before, changes);
        write(tx, gatewayId, after, by.at());
        for (Listener l : after.listeners()) {
            Map<Attribute, String> entered = new EnumMap<>(l.values());
            entered.keySet().retainAll(changed(before, l));
            SettingSources.forget(tx, gatewayId, l.name(), entered.keySet());
            SettingSources.put(tx, gatewayId, l.name(), entered, SettingSource.ENTERED, by.at());
        }
    }

    private static Set<Attribute> changed(Device before, Listener after) {
        return after.values().keySet().stream()
                .filter(a ->
                        !before.listener(after.name()).flatMap(b -> b.get(a)).equals(after.get(a)))
                .collect(Collectors.toSet());
    }

    /**
     * What somebody said to be made is not wanted any more: what was known before is known again. What became known otherwise since
     * then stays.
     */
    public void unmade(Tx tx, UUID gatewayId, Device before, Device made, Instant now) {
        Device known = device(tx, gatewayId);
        Device back = known.withListeners(listenersBack(known, before, made))
                .withForwards(known.forwards().equals(made.forwards()) ? before.forwards() : known.forwards())
                .withFilter(known.filter().equals(made.filter()) ? before.filter() : known.filter())
                .withNetworks(known.networks().equals(made.networks()) ? before.networks() : known.networks())
                .withAccounts(known.accounts().equals(made.accounts()) ? before.accounts() : known.accounts());
        write(tx, gatewayId, known.zone().equals(made.zone()) ? back.withZone(before.zone()) : back, now);
        for (Listener l : made.listeners()) {
            SettingSources.forget(tx, gatewayId, l.name(), changed(before, l));
        }
    }

    /** Each listener with those of its settings as before that are still as they were made. */
    private static List<Listener> listenersBack(Device known, Device before, Device made) {
        List<Listener> out = new ArrayList<>();
        for (Listener l : known.listeners()) {
            Optional<Listener> was = before.listener(l.name());
            Optional<Listener> then = made.listener(l.name());
            if (was.isEmpty() && then.isPresent()) {
                continue; // it was to be added
            }
            Listener back = l;
            if (was.isPresent() && then.isPresent()) {
                for (Attribute a : changed(before, then.get())) {
                    if (l.get(a).equals(then.get().get(a))) {
                        back = was.get().get(a).isPresent()
                                ? back.with(a, was.get().get(a).get())
                                : back.without(a);
                    }
                }
            }
            out.add(back);
        }
        before.listeners().stream()
                .filter(l -> made.listener(l.name()).isEmpty()
                        && known.listener(l.name()).isEmpty())
                .forEach(out::add);
        return out;
    }

    /**
     * A trial saw how a listener is set. What nobody knows, or only an earlier trial does, is taken over; what is known otherwise is
     * kept beside it. Of a gateway that is read from its device nothing is kept.
     */
    public void saw(Listeners.Listener tried, Map<Attribute, String> values) {
        Instant now = clock.instant();
        db.run(tx -> {
            if (values.isEmpty()
                    || !gateways.byId(tx, tried.gatewayId())
                            .filter(Gateways.Gateway::isManual)
                            .isPresent()) {
                return;
            }
            Device device = device(tx, tried.gatewayId());
            Optional<Listener> listener = device.listener(tried.name());
            if (listener.isEmpty()) {
                return;
            }
            Map<Attribute, Set<SettingSource>> from = SettingSources.of(tx, tried.gatewayId()).stream()
                    .filter(s -> s.listener().equals(tried.name()))
                    .collect(Collectors.groupingBy(
                            SettingSources.Said::setting,
                            Collectors.mapping(SettingSources.Said::source, Collectors.toSet())));
            Listener changed = listener.get();
            for (Map.Entry<Attribute, String> e : values.entrySet()) {
                boolean free = changed.get(e.getKey()).isEmpty()
                        || Set.of(SettingSource.TRIAL).equals(from.get(e.getKey()));
                changed = free ? changed.with(e.getKey(), e.getValue()) : changed;
            }
            if (!changed.values().equals(listener.get().values())) {
                write(tx, tried.gatewayId(), device.withListener(changed), now);
            }
            SettingSources.put(tx, tried.gatewayId(), tried.name(), values, SettingSource.TRIAL, now);
            Events.say(tx, "gateway", tried.gatewayId());
        });
    }

    /** @throws Refused where the gateway is read from its device, or has no such listener */
    public void drop(UUID gatewayId, String name, By by) {
        db.run(tx -> {
            Device device = device(tx, gatewayId);
            List<Listener> left = new ArrayList<>(device.listeners());
            if (!left.removeIf(l -> l.name().equals(name))) {
                throw Refused.notFound("listener");
            }
            Journal.append(tx, by, "listener-removed", "gateway", gatewayId, name);
            write(tx, gatewayId, device.withListeners(left), by.at());
        });
    }

    /** What is known, held against others until the transaction ends. */
    private Device device(Tx tx, UUID gatewayId) {
        Gateways.lock(tx, gatewayId);
        Gateways.Gateway g = gateways.byId(tx, gatewayId).orElseThrow(() -> Refused.notFound("gateway"));
        if (!g.isManual()) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    g.name() + " is read from the device; change its listeners there, or with a change",
                    "gateway");
        }
        return records.device(g);
    }

    /** The gateway has the first address of a WireGuard listener's tunnel network, where nobody says otherwise: no client may get it. */
    private static Listener complete(Listener l) {
        return l.protocol() != Protocol.WIREGUARD
                        || l.tunnels().isEmpty()
                        || l.get(Attribute.INSIDE_ADDRESS).isPresent()
                ? l
                : l.with(
                        Attribute.INSIDE_ADDRESS,
                        l.tunnels().get(0).first().plus(1).toString());
    }

    private void write(Tx tx, UUID gatewayId, Device known, Instant now) {
        Device device = known.withListeners(
                known.listeners().stream().map(ManualGateways::complete).toList());
        gateways.facts(tx, new Gateways.Found(gatewayId, device, OfficeDocuments.DEVICE.write(device), now));
        device.listeners().forEach(l -> Listeners.put(tx, GatewayReading.listener(gatewayId, l, List.of())));
        Listeners.goneBut(
                tx, gatewayId, device.listeners().stream().map(Listener::name).toList());
        reading.endpoints(tx, now, List.of(gatewayId), Listeners.of(tx, List.of(gatewayId)));
        Events.say(tx, "gateway", gatewayId);
    }
}
