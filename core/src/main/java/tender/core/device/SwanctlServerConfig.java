package tender.core.device;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.PemText;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Protocol;
import tender.core.profile.SectionFile;
import tender.core.wire.MalformedException;

/**
 * The connections of strongSwan's swanctl configuration (swanctl.conf(5)) that wait for clients, as listeners: those that give
 * addresses out of a pool, or whose other end may be anywhere.
 */
final class SwanctlServerConfig {
    private static final String CERTIFICATES = "x509/";
    private static final byte DER = 0x30;

    private final SectionFile file;
    private final String connection;
    private final Function<String, Optional<byte[]>> parts;

    private SwanctlServerConfig(SectionFile file, String connection, Function<String, Optional<byte[]>> parts) {
        this.file = file;
        this.connection = connection;
        this.parts = parts;
    }

    /** @param parts a file of the configuration's folders by its path from there, such as {@code x509/server.pem} */
    static List<Listener> read(SectionFile file, Function<String, Optional<byte[]>> parts) {
        if (!file.problems().isEmpty()) {
            throw new MalformedException("swanctl", "", file.problems().get(0).toString());
        }
        Set<String> names = new LinkedHashSet<>();
        file.sections().stream()
                .filter(path -> path.size() == 2 && path.get(0).equals("connections"))
                .forEach(path -> names.add(path.get(1)));
        return names.stream()
                .map(name -> new SwanctlServerConfig(file, name, parts))
                .filter(SwanctlServerConfig::waitsForClients)
                .map(SwanctlServerConfig::listener)
                .toList();
    }

    private Optional<String> own(String key) {
        return file.first(key, "connections", connection).map(SectionFile.Setting::value);
    }

    /** IKEv2 is spoken unless version 1 is asked for. */
    private boolean waitsForClients() {
        boolean anywhere = own("remote_addrs")
                .map(a -> SectionFile.items(a).stream().anyMatch(x -> x.startsWith("%any") || x.equals("0.0.0.0/0")))
                .orElse(true);
        return anywhere && !own("version").filter("1"::equals).isPresent();
    }

    private List<SectionFile.Setting> in(String round, String key) {
        return file.settings().stream()
                .filter(s -> s.key().equals(key)
                        && s.path().size() == 3
                        && s.path().get(0).equals("connections")
                        && s.path().get(1).equals(connection)
                        && s.path().get(2).startsWith(round))
                .toList();
    }

    private Listener listener() {
        Map<Attribute, String> v = new EnumMap<>(Attribute.class);
        v.put(Attribute.PROTOCOL, Protocol.IKEV2.word());
        List<String> auth =
                in("remote", "auth").stream().map(SectionFile.Setting::value).toList();
        boolean eap = auth.stream().anyMatch(a -> a.startsWith("eap"));
        boolean psk = auth.contains("psk");
        boolean certificate =
                auth.isEmpty() || auth.stream().anyMatch(a -> a.startsWith("pubkey") || a.equals("eap-tls"));
        v.put(Attribute.CLIENT_CERTIFICATE, certificate ? "yes" : "no");
        v.put(
                Attribute.ACCOUNTS,
                auth.contains("eap-radius") ? "directory" : eap && !auth.contains("eap-tls") ? "local" : "none");
        v.put(Attribute.SHARED_SECRET, psk ? "yes" : "no");
        put(v, Attribute.REACH, reach());
        put(v, Attribute.TUNNEL_NETWORK, ofPools("addrs", SwanctlServerConfig::network));
        put(v, Attribute.DNS, ofPools("dns", SwanctlServerConfig::address));
        certificate().ifPresent(c -> {
            v.put(Attribute.CERTIFICATE_EXPIRES, c.ends().toString());
            v.put(Attribute.KEY_BITS, Integer.toString(c.key().rsaBits()));
            put(v, Attribute.SERVER_NAMES, c.names());
        });
        if (!v.containsKey(Attribute.SERVER_NAMES)) {
            put(
                    v,
                    Attribute.SERVER_NAMES,
                    in("local", "id").stream()
                            .map(s -> s.value().replaceFirst("^@", ""))
                            .toList());
        }
        return new Listener(connection, v);
    }

    private List<String> reach() {
        List<String> out = new ArrayList<>();
        for (SectionFile.Setting s : file.settings()) {
            if (s.key().equals("local_ts")
                    && s.path().size() == 4
                    && s.isIn("connections", connection, "children", s.path().get(3))) {
                s.items().stream().flatMap(i -> network(i).stream()).forEach(out::add);
            }
        }
        return out;
    }

    private List<String> ofPools(String key, Function<String, Optional<String>> as) {
        return own("pools").stream()
                .flatMap(p -> SectionFile.items(p).stream())
                .flatMap(pool -> file.first(key, "pools", pool).stream())
                .flatMap(s -> s.items().stream())
                .flatMap(item -> as.apply(item).stream())
                .toList();
    }

    /** A network as it stands there; a range of addresses or a word is none. */
    private static Optional<String> network(String text) {
        try {
            return Optional.of(Cidr.parse(text).toString());
        } catch (MalformedException e) {
            return address(text).map(a -> a + (a.indexOf(':') >= 0 ? "/128" : "/32"));
        }
    }

    private static Optional<String> address(String text) {
        try {
            return Optional.of(IpAddress.parse(text).toString());
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }

    private Optional<CertificateFacts> certificate() {
        return in("local", "certs").stream()
                .flatMap(s -> s.items().stream())
                .flatMap(name -> parts.apply(name.startsWith("/") ? name : CERTIFICATES + name).stream())
                .findFirst()
                .flatMap(SwanctlServerConfig::facts);
    }

    private static Optional<CertificateFacts> facts(byte[] content) {
        try {
            return content.length > 0 && content[0] == DER
                    ? Optional.of(CertificateFacts.of(content))
                    : PemText.read(new String(content, StandardCharsets.ISO_8859_1)).blocks().stream()
                            .filter(b -> b.label().equals("CERTIFICATE"))
                            .findFirst()
                            .map(b -> CertificateFacts.of(b.der()));
        } catch (MalformedException e) {
            return Optional.empty(); // strongSwan passes over it, too
        }
    }

    private static void put(Map<Attribute, String> values, Attribute attribute, List<String> items) {
        String text = items.stream().distinct().collect(Collectors.joining(", "));
        if (!text.isEmpty()) {
            values.put(attribute, text);
        }
    }
}
