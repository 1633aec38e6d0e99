package tender.core.proposal;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A person, and perhaps a device, out of a name that stands in a certificate or on a file: {@code ana.torres-laptop}.
 *
 * @param handle for a new person
 * @param name for people to read
 * @param device a word that stands in the name, with its kind
 */
public record NamedOwner(String handle, String name, Optional<DeviceWord> device) {
    /** A device as a name has it. */
    public record DeviceWord(String name, String kind) {}

    private static final int MAX_HANDLE = 40;

    private static final Map<String, String> DEVICES = Map.ofEntries(
            Map.entry("laptop", "laptop"),
            Map.entry("notebook", "laptop"),
            Map.entry("pc", "laptop"),
            Map.entry("desktop", "laptop"),
            Map.entry("mac", "laptop"),
            Map.entry("windows", "laptop"),
            Map.entry("linux", "laptop"),
            Map.entry("phone", "phone"),
            Map.entry("iphone", "phone"),
            Map.entry("android", "phone"),
            Map.entry("mobile", "phone"),
            Map.entry("handy", "phone"),
            Map.entry("tablet", "tablet"),
            Map.entry("ipad", "tablet"),
            Map.entry("server", "server"));

    /** Words of files and gateways that name nobody. */
    private static final Set<String> NOBODY = Set.of(
            "vpn",
            "ovpn",
            "openvpn",
            "wireguard",
            "wg",
            "ikev2",
            "ipsec",
            "swanctl",
            "client",
            "clients",
            "user",
            "users",
            "config",
            "configuration",
            "profile",
            "export",
            "exported",
            "udp",
            "tcp",
            "office",
            "company",
            "staff",
            "remote",
            "access",
            "gateway",
            "gw",
            "firewall",
            "fw",
            "router",
            "nas",
            "server",
            "tunnel",
            "peer",
            "download",
            "new",
            "old",
            "final",
            "copy",
            "test");

    /**
     * Reads a name.
     *
     * @param others words that name the gateway or its site, and nobody
     * @return empty where no person stands in it
     */
    static Optional<NamedOwner> of(String text, Set<String> others) {
        String plain = text.toLowerCase(Locale.ROOT).replaceFirst("@.*", "");
        List<String> person = new ArrayList<>();
        Optional<DeviceWord> device = Optional.empty();
        for (String word : plain.split("[^\\p{L}\\p{N}]+")) {
            String ascii = ascii(word);
            String letters = ascii.replaceFirst("[0-9]+$", "");
            if (ascii.isEmpty() || letters.isEmpty() || others.contains(ascii)) {
                continue;
            }
            if (DEVICES.containsKey(letters) && !(letters.equals("server") && person.isEmpty())) {
                device = Optional.of(new DeviceWord(ascii, DEVICES.get(letters)));
            } else if (!NOBODY.contains(letters)) {
                person.add(ascii);
            }
        }
        String handle = String.join("-", person);
        return person.isEmpty() || handle.length() > MAX_HANDLE
                ? Optional.empty()
                : Optional.of(new NamedOwner(
                        handle, person.stream().map(NamedOwner::capital).collect(Collectors.joining(" ")), device));
    }

    /** With a device that stands elsewhere, where none stands in the name. */
    NamedOwner orOn(Optional<DeviceWord> elsewhere) {
        return new NamedOwner(handle, name, device.or(() -> elsewhere));
    }

    /** Letters of other alphabets without their marks, where they have such; the rest is left out. */
    private static String ascii(String word) {
        return java.text.Normalizer.normalize(
                        word.replace("ø", "o")
                                .replace("ß", "ss")
                                .replace("æ", "ae")
                                .replace("ł", "l"),
                        java.text.Normalizer.Form.NFD)
                .replaceAll("[^a-z0-9]", "");
    }

    private static String capital(String word) {
        return word.substring(0, 1).toUpperCase(Locale.ROOT) + word.substring(1);
    }
}
