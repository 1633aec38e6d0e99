package tender.core.trial;

import java.util.EnumMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import tender.core.certificate.CertificateFacts;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.wire.MalformedException;

/**
 * What a trial shows of how a listener is set: the address that answered, the end, names and key of its certificate, the TLS version and
 * cipher that were agreed on, the oldest TLS version that it speaks, and what it gives to clients. A setting that the trial did not get to see is missing.
 */
public final class ObservedSettings {
    private static final Set<Attribute> SEEN = Set.of(
            Attribute.CERTIFICATE_EXPIRES,
            Attribute.KEY_BITS,
            Attribute.SERVER_NAMES,
            Attribute.REACH,
            Attribute.DNS,
            Attribute.INSIDE_ADDRESS,
            Attribute.CIPHERS,
            Attribute.TLS_MINIMUM,
            Attribute.TLS_VERSION,
            Attribute.ENDPOINT_ADDRESS);

    private static final String TLS = "TLS ";

    private ObservedSettings() {}

    /** By the settings' words, to be told elsewhere. */
    public static Map<String, String> words(Map<Attribute, String> observed) {
        Map<String, String> out = new TreeMap<>();
        observed.forEach((attribute, value) -> out.put(attribute.word(), value));
        return out;
    }

    /** As somebody elsewhere tells it; what no trial sees, and what is no value of its setting, is left out. */
    public static Map<Attribute, String> read(Map<String, String> words) {
        Map<Attribute, String> out = new EnumMap<>(Attribute.class);
        words.forEach((word, value) ->
                Attribute.ofWord(word).filter(SEEN::contains).ifPresent(a -> put(out, a, Set.of(value))));
        return out;
    }

    public static Map<Attribute, String> of(OpenVpnSeen seen) {
        Map<Attribute, String> out = certificate(seen.chain());
        answered(out, seen.path(), seen.dialled());
        seen.tlsVersion().ifPresent(v -> tls(out, Attribute.TLS_VERSION, v));
        if (!seen.came(OpenVpnSeen.Stage.UP)) {
            return out;
        }
        Set<String> reach = new LinkedHashSet<>();
        Set<String> dns = new LinkedHashSet<>();
        for (String option : seen.pushed().options()) {
            String[] w = option.split(" +");
            if (w[0].equals("route") && w.length > 1) {
                network(w[1], w.length > 2 ? w[2] : "255.255.255.255").ifPresent(reach::add);
            } else if (w[0].equals("route-ipv6") && w.length > 1) {
                cidr(w[1]).ifPresent(reach::add);
            } else if (w[0].equals("redirect-gateway")) {
                reach.add(Cidr.EVERYTHING_V4.toString());
            } else if (w[0].equals("dhcp-option") && w.length > 2 && w[1].startsWith("DNS")) {
                address(w[2]).ifPresent(dns::add);
            }
        }
        put(out, Attribute.REACH, reach);
        put(out, Attribute.DNS, dns);
        seen.cipher().ifPresent(c -> put(out, Attribute.CIPHERS, Set.of(c.toUpperCase(Locale.ROOT))));
        seen.gatewayInside().ifPresent(a -> out.put(Attribute.INSIDE_ADDRESS, a.toString()));
        return out;
    }

    public static Map<Attribute, String> of(IkeSeen seen) {
        Map<Attribute, String> out = certificate(seen.chain());
        answered(out, seen.path(), seen.dialled());
        put(
                out,
                Attribute.REACH,
                seen.reach().stream().map(Cidr::toString).collect(Collectors.toCollection(LinkedHashSet::new)));
        return out;
    }

    public static Map<Attribute, String> of(ProbeSeen seen) {
        Map<Attribute, String> out = certificate(seen.chain());
        answered(out, seen.path(), seen.dialled());
        if (!seen.tls().isEmpty()) {
            tls(out, Attribute.TLS_MINIMUM, seen.tls().get(seen.tls().size() - 1));
        }
        return out;
    }

    public static Map<Attribute, String> of(Observation seen) {
        Map<Attribute, String> out = new EnumMap<>(Attribute.class);
        answered(out, seen.path(), seen.dialled());
        return out;
    }

    /** Of "TLS 1.2" the number. */
    private static void tls(Map<Attribute, String> out, Attribute setting, String version) {
        if (version.startsWith(TLS)) {
            put(out, setting, Set.of(version.substring(TLS.length())));
        }
    }

    private static void answered(Map<Attribute, String> out, Observation.Path path, Optional<IpAddress> dialled) {
        dialled.filter(a -> path == Observation.Path.ANSWERED)
                .ifPresent(a -> out.put(Attribute.ENDPOINT_ADDRESS, a.toString()));
    }

    private static Map<Attribute, String> certificate(List<byte[]> chain) {
        try {
            return chain.isEmpty() ? new EnumMap<>(Attribute.class) : of(CertificateFacts.of(chain.get(0)));
        } catch (MalformedException e) {
            return new EnumMap<>(Attribute.class); // the trial says that it cannot be read
        }
    }

    /** What the certificate that a listener shows says of its settings. */
    public static Map<Attribute, String> of(CertificateFacts own) {
        Map<Attribute, String> out = new EnumMap<>(Attribute.class);
        out.put(Attribute.CERTIFICATE_EXPIRES, own.ends().toString());
        out.put(Attribute.KEY_BITS, Integer.toString(own.key().rsaBits()));
        put(
                out,
                Attribute.SERVER_NAMES,
                own.names().isEmpty()
                        ? own.anyName().stream().collect(Collectors.toSet())
                        : new LinkedHashSet<>(own.names()));
        return out;
    }

    /** Leaves out what is no value of the setting: a server may say anything. */
    private static void put(Map<Attribute, String> values, Attribute attribute, Set<String> items) {
        if (items.isEmpty()) {
            return;
        }
        String text = String.join(", ", items);
        try {
            attribute.check(text);
            values.put(attribute, text);
        } catch (MalformedException e) {
            values.remove(attribute);
        }
    }

    private static Optional<String> network(String address, String mask) {
        try {
            return Optional.of(
                    Cidr.ofMask(IpAddress.parse(address), IpAddress.parse(mask)).toString());
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }

    private static Optional<String> cidr(String text) {
        return Stream.of(text)
                .flatMap(t -> {
                    try {
                        return Stream.of(Cidr.parse(t).toString());
                    } catch (MalformedException e) {
                        return Stream.empty();
                    }
                })
                .findFirst();
    }

    private static Optional<String> address(String text) {
        try {
            return Optional.of(IpAddress.parse(text).toString());
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }
}
