package tender.core.office;

import java.time.Instant;
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

/** A change of one listener: its settings, its certificate, whom it lets in no more. */
public sealed interface ListenerChange extends Change {
    @Override
    default boolean mayCutOff() {
        return false;
    }

    /** New values of some attributes of a listener. */
    record SetListener(String listener, Map<Attribute, String> values) implements ListenerChange {
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
            boolean moved = values.containsKey(Attribute.TUNNEL_NETWORK)
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
            values.forEach((attribute, value) -> parts.add(attribute.word() + " to " + value));
            return "set " + String.join(", ", parts) + " on listener " + listener;
        }
    }

    /** Another listener put beside one there is, differing in some attributes; the old one goes on. */
    record AddListener(String listener, String name, Map<Attribute, String> values) implements ListenerChange {
        public AddListener {
            values = Map.copyOf(values);
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
                    .with(Map.of(Attribute.PEERS, "0", Attribute.ACTIVE, "yes")));
        }

        @Override
        public String words() {
            return "add listener " + name + " beside " + listener;
        }
    }

    /** A listener that nobody needs any more goes. */
    record RemoveListener(String listener) implements ListenerChange {
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
            return "remove listener " + listener;
        }
    }

    /**
     * A new certificate for a listener, from the same authority as its present one, so that files go on fitting.
     *
     * @param names those that clients compare, first the common name
     * @param keyBits strength of the new key as RSA counts it
     */
    record RenewCertificate(String listener, List<String> names, int keyBits, Instant ends) implements ListenerChange {
        public static final int SOUND_KEY_BITS = 3072;

        public RenewCertificate {
            names = List.copyOf(names);
            if (keyBits < 2048 || keyBits > 4096) {
                throw new MalformedException("key", "keyBits", "a key has 2048 to 4096 bits");
            }
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
            values.put(Attribute.CERTIFICATE_EXPIRES, ends.toString());
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
            return "give listener " + listener + " a new certificate until " + ends
                    + (names.isEmpty() ? "" : " for " + names.get(0));
        }
    }

    /** The list of revoked certificates signed anew by the authority that a listener believes. */
    record RenewRevocations(String listener, Instant ends) implements ListenerChange {
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
                    existing(device, listener).with(Map.of(Attribute.REVOCATION_LIST_EXPIRES, ends.toString())));
        }

        @Override
        public String words() {
            return "sign the revocation list of listener " + listener + " anew until " + ends;
        }
    }

    /**
     * A listener shows a certificate of the company's authority, made for the request that the device gave, and believes that
     * authority and no other. All three in PEM; the key never leaves the device.
     */
    record UseCertificate(String listener, String certificate, String authority, String revocations)
            implements ListenerChange {
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
            values.put(Attribute.CERTIFICATE_EXPIRES, facts.ends().toString());
            values.put(Attribute.SERVER_NAMES, String.join(", ", facts.names()));
            values.put(Attribute.AUTHORITY, CertificateFacts.of(der(authority)).fingerprint());
            RevocationFacts.of(der(revocations))
                    .next()
                    .ifPresent(next -> values.put(Attribute.REVOCATION_LIST_EXPIRES, next.toString()));
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
            return "give listener " + listener + " a certificate of " + facts.issuer() + " for "
                    + String.join(", ", facts.names())
                    + " until " + facts.ends();
        }
    }

    /** The list of whom a listener lets in no more, as the company's authority signed it; in PEM. */
    record PutRevocations(String listener, String revocations) implements ListenerChange {
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
                    .map(next -> device.withListener(existing(device, listener)
                            .with(Map.of(Attribute.REVOCATION_LIST_EXPIRES, next.toString()))))
                    .orElse(device);
        }

        @Override
        public String words() {
            return "give listener " + listener + " a list of "
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
}
