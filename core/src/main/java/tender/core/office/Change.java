package tender.core.office;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.certificate.RevocationFacts;
import tender.core.wire.MalformedException;

/** A change of what a gateway does. Applied to what the device says of itself, it gives what the device will say. */
public sealed interface Change {
    Device applyTo(Device device);

    /** What has to start anew; the device takes its settings up where nothing else is said. */
    default Restart restart(Device device) {
        return Restart.RELOAD;
    }

    /** In words, for the person who decides and for the journal. */
    String words();

    /** Whether it could cut Tender itself off from the device, so that a rollback has to be armed there first. */
    boolean mayCutOff();

    /** What is to be done with it, by its kind. */
    <R> R match(Cases<R> cases);

    /** The listener that goes on with other settings. */
    default Optional<String> changedListener() {
        return Optional.empty();
    }

    /** The listener whose users are cut when it starts anew. */
    default Optional<String> cutListener() {
        return changedListener();
    }

    /** Whether it is about reloading itself. */
    default boolean reloads() {
        return false;
    }

    /** Whether the device's clock is set. */
    default boolean setsClock() {
        return false;
    }

    /** One case for each kind of change: a new kind is missed nowhere. */
    interface Cases<R> {
        R of(SetListener change);

        R of(AddBeside change);

        R of(Retire change);

        R of(PutForward change);

        R of(DropForward change);

        R of(PutRule change);

        R of(ReplaceRule change);

        R of(DropRule change);

        R of(MoveRule change);

        R of(Demote change);

        R of(SetClock change);

        R of(TakeUp change);

        R of(PutNetwork change);

        R of(SetZone change);

        R of(RenewCertificate change);

        R of(RenewRevocations change);

        R of(UseCertificate change);

        R of(PutRevocations change);
    }

    /** New values of some attributes of a listener. */
    record SetListener(String listener, Map<Attribute, String> values) implements Change {
        public SetListener {
            EnumMap<Attribute, String> copy = new EnumMap<>(Attribute.class);
            copy.putAll(values);
            copy.forEach((attribute, value) -> {
                attribute.check(value);
                if (attribute.concerns() == Attribute.Concerns.SEEN || attribute == Attribute.PROTOCOL) {
                    throw new MalformedException("attribute", attribute.word(), "is seen, and cannot be set");
                }
            });
            values = Collections.unmodifiableMap(copy);
        }

        @Override
        public boolean mayCutOff() {
            return false;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Optional<String> changedListener() {
            return Optional.of(listener);
        }

        @Override
        public Device applyTo(Device device) {
            Listener before = existing(device, listener);
            Listener after = before.with(values);
            boolean moved = values.containsKey(Attribute.TUNNELS)
                    && !values.containsKey(Attribute.INSIDE_ADDRESS)
                    && before.get(Attribute.INSIDE_ADDRESS).isPresent();
            // the gateway's own end goes along with its network
            return device.withListener(
                    moved && !after.tunnels().isEmpty()
                            ? after.with(
                                    Attribute.INSIDE_ADDRESS,
                                    after.tunnels().get(0).first().plus(1).toString())
                            : after);
        }

        @Override
        public Restart restart(Device device) {
            Listener before = existing(device, listener);
            return values.entrySet().stream()
                    .filter(e -> !before.is(e.getKey(), e.getValue()))
                    .map(e -> e.getKey().restart())
                    .reduce(Restart.NONE, Restart::or);
        }

        @Override
        public String words() {
            List<String> parts = new ArrayList<>();
            values.forEach((attribute, value) -> parts.add(attribute.word() + " " + value));
            return listener + ": " + String.join(", ", parts);
        }
    }

    /** Another listener put beside one there is, differing in some attributes; the old one goes on. */
    record AddBeside(String listener, String name, Map<Attribute, String> values) implements Change {
        public AddBeside {
            values = Map.copyOf(values);
        }

        @Override
        public boolean mayCutOff() {
            return false;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            if (device.listener(name).isPresent()) {
                throw new MalformedException("listener", name, "there is a listener of this name already");
            }
            return device.withListener(existing(device, listener)
                    .named(name)
                    .with(values)
                    .with(Map.of(Attribute.PEERS, "0", Attribute.IN_FORCE, "yes")));
        }

        @Override
        public String words() {
            return name + " beside " + listener;
        }
    }

    /** A listener that nobody needs any more goes. */
    record Retire(String listener) implements Change {
        @Override
        public boolean mayCutOff() {
            return false;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Optional<String> cutListener() {
            return Optional.of(listener);
        }

        @Override
        public Device applyTo(Device device) {
            existing(device, listener);
            return device.withListeners(device.listeners().stream()
                    .filter(l -> !l.name().equals(listener))
                    .toList());
        }

        @Override
        public Restart restart(Device device) {
            return Restart.LISTENER;
        }

        @Override
        public String words() {
            return listener + " retired";
        }
    }

    /** A forward for its door; one there is for the same door is replaced. */
    record PutForward(Forward forward) implements Change {
        @Override
        public boolean mayCutOff() {
            return true;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            List<Forward> out = new ArrayList<>(device.forwards());
            Protocol.Door door = new Protocol.Door(forward.transport(), forward.port());
            int at = 0;
            while (at < out.size() && !out.get(at).takes(door)) {
                at++;
            }
            if (at < out.size()) {
                out.set(at, forward);
            } else {
                out.add(forward);
            }
            return device.withForwards(out);
        }

        @Override
        public String words() {
            return "forward " + forward.words();
        }
    }

    /** No forward for a door any more. */
    record DropForward(Protocol.Door door) implements Change {
        @Override
        public boolean mayCutOff() {
            return true;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            List<Forward> out =
                    device.forwards().stream().filter(f -> !f.takes(door)).toList();
            if (out.size() == device.forwards().size()) {
                throw new MalformedException("forward", "forward", "nothing is forwarded from " + door);
            }
            return device.withForwards(out);
        }

        @Override
        public String words() {
            return "no forward from " + door;
        }
    }

    /** A filter rule put at a number; those from there on move down. */
    record PutRule(int number, FilterRule rule) implements Change {
        @Override
        public boolean mayCutOff() {
            return true;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            return device.withFilter(device.filter().withRule(number, rule));
        }

        @Override
        public String words() {
            return "filter rule " + number + ": " + rule.words();
        }
    }

    /** Another rule in the place of one there is. */
    record ReplaceRule(int number, FilterRule rule) implements Change {
        @Override
        public boolean mayCutOff() {
            return true;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            return device.withFilter(device.filter().withoutRule(number).withRule(number, rule));
        }

        @Override
        public String words() {
            return "filter rule " + number + " becomes: " + rule.words();
        }
    }

    /** A filter rule goes. */
    record DropRule(int number) implements Change {
        @Override
        public boolean mayCutOff() {
            return true;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            return device.withFilter(device.filter().withoutRule(number));
        }

        @Override
        public String words() {
            return "filter rule " + number + " removed";
        }
    }

    /** A filter rule moves to another number. */
    record MoveRule(int from, int to) implements Change {
        @Override
        public boolean mayCutOff() {
            return true;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            return device.withFilter(device.filter().withMoved(from, to));
        }

        @Override
        public String words() {
            return "filter rule " + from + " moved to " + to;
        }
    }

    /** A VPN account loses its rights on the device itself. */
    record Demote(String account) implements Change {
        @Override
        public boolean mayCutOff() {
            return false;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            if (device.accounts().stream().noneMatch(a -> a.name().equals(account))) {
                throw new MalformedException("account", "account", "there is no such account");
            }
            return device.withAccounts(device.accounts().stream()
                    .map(a -> a.name().equals(account)
                            ? new Device.Account(a.name(), a.vpn(), false, a.secondFactor())
                            : a)
                    .toList());
        }

        @Override
        public Restart restart(Device device) {
            return Restart.NONE;
        }

        @Override
        public String words() {
            return "account " + account + " may use the tunnel alone";
        }
    }

    /** The device's clock set to Tender's. */
    record SetClock() implements Change {
        @Override
        public boolean mayCutOff() {
            return false;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public boolean setsClock() {
            return true;
        }

        @Override
        public Device applyTo(Device device) {
            return device.withClockOffset(Optional.of(java.time.Duration.ZERO));
        }

        @Override
        public Restart restart(Device device) {
            return Restart.NONE;
        }

        @Override
        public String words() {
            return "clock set";
        }
    }

    /** What is written is taken up. */
    record TakeUp() implements Change {
        @Override
        public boolean mayCutOff() {
            return false;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public boolean reloads() {
            return true;
        }

        @Override
        public Device applyTo(Device device) {
            return device.withListeners(device.listeners().stream()
                    .map(l -> l.get(Attribute.IN_FORCE).isPresent() ? l.with(Attribute.IN_FORCE, "yes") : l)
                    .toList());
        }

        @Override
        public String words() {
            return "the device takes up what is written";
        }
    }

    /** An inside network as it is to be: its addresses, its pool and what is fixed; the one of that name is replaced. */
    record PutNetwork(Network network) implements Change {
        @Override
        public boolean mayCutOff() {
            return false;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            List<Network> out = new ArrayList<>(device.networks());
            out.replaceAll(n -> n.name().equals(network.name()) ? network : n);
            if (!out.contains(network)) {
                out.add(network);
            }
            return device.withNetworks(out);
        }

        @Override
        public String words() {
            return "network " + network.name() + " " + network.words();
        }
    }

    /** The device's time zone, by its name in the zone database. */
    record SetZone(String zone) implements Change {
        public SetZone {
            try {
                ZoneId.of(zone);
            } catch (DateTimeException e) {
                throw new MalformedException("zone", "zone", "a zone is written Europe/Oslo");
            }
        }

        @Override
        public boolean mayCutOff() {
            return false;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            return device.withZone(zone);
        }

        @Override
        public String words() {
            return "time zone " + zone;
        }
    }

    /**
     * A new certificate for a listener, from the same authority as its present one, so that files go on fitting.
     *
     * @param names those that clients compare, first the common name
     * @param keyBits strength of the new key as RSA counts it
     */
    record RenewCertificate(String listener, List<String> names, int keyBits, Instant ends) implements Change {
        public static final int SOUND_KEY_BITS = 3072;

        public RenewCertificate {
            names = List.copyOf(names);
            if (keyBits < 2048 || keyBits > 4096) {
                throw new MalformedException("key", "keyBits", "a key has 2048 to 4096 bits");
            }
        }

        @Override
        public boolean mayCutOff() {
            return false;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Optional<String> changedListener() {
            return Optional.of(listener);
        }

        @Override
        public Device applyTo(Device device) {
            EnumMap<Attribute, String> values = new EnumMap<>(Attribute.class);
            values.put(Attribute.CERTIFICATE_ENDS, ends.toString());
            values.put(Attribute.KEY_BITS, Integer.toString(keyBits));
            if (!names.isEmpty()) {
                values.put(Attribute.SERVER_NAMES, String.join(", ", names));
            }
            return device.withListener(existing(device, listener).with(values));
        }

        @Override
        public Restart restart(Device device) {
            return Restart.LISTENER;
        }

        @Override
        public String words() {
            return listener + ": a new certificate until " + ends + (names.isEmpty() ? "" : " for " + names.get(0));
        }
    }

    /** The list of revoked certificates signed anew by the authority that a listener believes. */
    record RenewRevocations(String listener, Instant ends) implements Change {
        @Override
        public boolean mayCutOff() {
            return false;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Optional<String> changedListener() {
            return Optional.of(listener);
        }

        @Override
        public Device applyTo(Device device) {
            return device.withListener(
                    existing(device, listener).with(Map.of(Attribute.REVOCATION_ENDS, ends.toString())));
        }

        @Override
        public String words() {
            return listener + ": its revocation list signed anew until " + ends;
        }
    }

    /**
     * A listener shows a certificate of the company's authority, made for the request that the device gave, and believes that
     * authority and no other. All three in PEM; the key never leaves the device.
     */
    record UseCertificate(String listener, String certificate, String authority, String revocations) implements Change {
        @Override
        public boolean mayCutOff() {
            return false;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Optional<String> changedListener() {
            return Optional.of(listener);
        }

        @Override
        public Device applyTo(Device device) {
            CertificateFacts facts = CertificateFacts.of(der(certificate));
            EnumMap<Attribute, String> values = new EnumMap<>(Attribute.class);
            values.put(Attribute.CERTIFICATE_ENDS, facts.ends().toString());
            values.put(Attribute.SERVER_NAMES, String.join(", ", facts.names()));
            values.put(Attribute.AUTHORITY, CertificateFacts.of(der(authority)).fingerprint());
            RevocationFacts.of(der(revocations))
                    .next()
                    .ifPresent(next -> values.put(Attribute.REVOCATION_ENDS, next.toString()));
            return device.withListener(
                    existing(device, listener).without(Attribute.KEY_BITS).with(values));
        }

        @Override
        public Restart restart(Device device) {
            return Restart.LISTENER;
        }

        @Override
        public String words() {
            CertificateFacts facts = CertificateFacts.of(der(certificate));
            return listener + ": a certificate of " + facts.issuer() + " for " + String.join(", ", facts.names())
                    + " until " + facts.ends();
        }
    }

    /** The list of whom a listener lets in no more, as the company's authority signed it; in PEM. */
    record PutRevocations(String listener, String revocations) implements Change {
        @Override
        public boolean mayCutOff() {
            return false;
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Optional<String> changedListener() {
            return Optional.of(listener);
        }

        @Override
        public Device applyTo(Device device) {
            return RevocationFacts.of(der(revocations))
                    .next()
                    .map(next -> device.withListener(
                            existing(device, listener).with(Map.of(Attribute.REVOCATION_ENDS, next.toString()))))
                    .orElse(device);
        }

        @Override
        public String words() {
            return listener + ": a list of "
                    + RevocationFacts.of(der(revocations)).count() + " revoked certificates";
        }
    }

    private static byte[] der(String pem) {
        return PemText.read(pem).blocks().stream()
                .findFirst()
                .orElseThrow(() -> new MalformedException("certificate", "", "no PEM"))
                .der();
    }

    private static Listener existing(Device device, String name) {
        return device.listener(name)
                .orElseThrow(() -> new MalformedException(
                        "listener",
                        "listener",
                        "there is no listener " + name + "; there are: "
                                + String.join(
                                        ", ",
                                        device.listeners().stream()
                                                .map(Listener::name)
                                                .toList())));
    }

    /** All changes in order. */
    static Device apply(Device device, List<Change> changes) {
        Device out = device;
        for (Change change : changes) {
            out = change.applyTo(out);
        }
        return out;
    }
}
