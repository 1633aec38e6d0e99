package tender.core.profile;

import java.math.BigInteger;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import tender.core.credential.TunnelKey;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;

/**
 * Whether wg-quick(8) and wg(8) take a file at all, by their own rules: wg-quick keeps the lines that are its own and hands the
 * rest to wg, which takes all white space out of a line and ends at the first that it does not know. What needs a name to be
 * looked up is taken.
 */
public final class WireGuardRules {
    private static final Set<String> QUICK =
            Set.of("address", "mtu", "dns", "table", "preup", "predown", "postup", "postdown", "saveconfig");
    /** Those that machines usually know by name. */
    static final Set<String> SERVICES =
            Set.of("domain", "ntp", "snmp", "tftp", "syslog", "isakmp", "ipsec-nat-t", "openvpn", "radius");

    private static final long MOST_MARK = 4_294_967_295L;
    private static final int MOST_SECONDS = 65_535;

    private boolean ownSection;
    private boolean peerSection;
    private boolean quickSection;
    private boolean keyed = true;

    private WireGuardRules() {}

    /** The first line that ends it; empty where the file is taken. */
    public static Optional<ParseProblem> refusal(String text) {
        return new WireGuardRules().first(text.replace("\0", ""));
    }

    private Optional<ParseProblem> first(String text) {
        String[] lines = text.split("\n", -1);
        for (int i = 0; i < lines.length; i++) {
            Optional<String> what = quick(lines[i]);
            if (what.isPresent()) {
                return Optional.of(new ParseProblem(i + 1, "refused", what.get()));
            }
        }
        return keyed ? Optional.empty() : Optional.of(new ParseProblem(0, "refused", "a [Peer] has no PublicKey"));
    }

    private Optional<String> quick(String line) {
        String bare = line.split("#", 2)[0];
        int equals = bare.indexOf('=');
        String key = trimmed(equals < 0 ? bare : bare.substring(0, equals)).toLowerCase(Locale.ROOT);
        String value = trimmed(equals < 0 ? bare : bare.substring(equals + 1)).toLowerCase(Locale.ROOT);
        if (key.startsWith("[")) {
            quickSection = false;
        }
        if (key.equals("[interface]")) {
            quickSection = true;
        }
        if (quickSection && QUICK.contains(key)) {
            return key.equals("saveconfig") && !value.matches("true|false")
                    ? Optional.of("SaveConfig is neither true nor false")
                    : Optional.empty();
        }
        return setting(bare.replaceAll("[ \t\u000b\f\r]", ""));
    }

    private static String trimmed(String text) {
        return text.replaceAll("^[ \t\u000b\f\r]+|[ \t\u000b\f\r]+$", "");
    }

    private Optional<String> setting(String line) {
        if (line.isEmpty()) {
            return Optional.empty();
        }
        if (line.equalsIgnoreCase("[Interface]")) {
            ownSection = true;
            peerSection = false;
            return Optional.empty();
        }
        if (line.equalsIgnoreCase("[Peer]")) {
            if (!keyed) {
                return Optional.of("the [Peer] before it has no PublicKey");
            }
            ownSection = false;
            peerSection = true;
            keyed = false;
            return Optional.empty();
        }
        int equals = line.indexOf('=');
        if (equals < 0 || equals == line.length() - 1) {
            return Optional.of("a line that is no setting");
        }
        String key = line.substring(0, equals).toLowerCase(Locale.ROOT);
        String value = line.substring(equals + 1);
        return ownSection
                ? own(key, value)
                : peerSection ? peer(key, value) : Optional.of("a setting before any section");
    }

    private static Optional<String> own(String key, String value) {
        return switch (key) {
            case "listenport" -> unless(isPort(value), "ListenPort is no port");
            case "fwmark" -> unless(isMark(value), "FwMark is no number");
            case "privatekey" -> unless(isKey(value), "PrivateKey is no key");
            default -> Optional.of("a setting that [Interface] does not have");
        };
    }

    private Optional<String> peer(String key, String value) {
        return switch (key) {
            case "endpoint" -> unless(isEndpoint(value), "Endpoint is no host and port");
            case "publickey" -> {
                keyed |= isKey(value);
                yield unless(isKey(value), "PublicKey is no key");
            }
            case "presharedkey" -> unless(isKey(value), "PresharedKey is no key");
            case "allowedips" -> unless(areNetworks(value), "AllowedIPs are no networks");
            case "persistentkeepalive" ->
                unless(
                        isUpTo(value, MOST_SECONDS) || value.equalsIgnoreCase("off"),
                        "PersistentKeepalive is no number");
            default -> Optional.of("a setting that [Peer] does not have");
        };
    }

    private static Optional<String> unless(boolean taken, String what) {
        return taken ? Optional.empty() : Optional.of(what);
    }

    private static boolean isKey(String value) {
        try {
            TunnelKey.decode(value);
            return true;
        } catch (MalformedException e) {
            return false;
        }
    }

    private static boolean isUpTo(String value, long most) {
        return value.matches("[0-9]{1,40}") && new BigInteger(value).compareTo(BigInteger.valueOf(most)) <= 0;
    }

    /** As getaddrinfo(3) takes it: a number of which 16 bits count and the 32nd may not be set, or a service on UDP. */
    private static boolean isPort(String value) {
        if (!value.matches("\\+?[0-9]{1,40}")) {
            return SERVICES.contains(value);
        }
        BigInteger number = new BigInteger(value.replace("+", ""));
        return number.bitLength() <= Long.SIZE && !number.testBit(Integer.SIZE - 1);
    }

    private static boolean isMark(String value) {
        return value.equalsIgnoreCase("off") || isUpTo(value, MOST_MARK) || value.matches("0x0*[0-9a-fA-F]{0,8}");
    }

    private static boolean areNetworks(String value) {
        for (String network : value.split(",", -1)) {
            String[] parts = network.split("/", 2);
            Optional<IpAddress> address = address(parts[0]);
            if (address.isEmpty()
                    || parts.length == 2
                            && !isUpTo(parts[1], address.get().family().bits())) {
                return false;
            }
        }
        return true;
    }

    private static Optional<IpAddress> address(String text) {
        try {
            return Optional.of(IpAddress.parse(text));
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }

    private static boolean isEndpoint(String value) {
        if (value.startsWith("[")) {
            int end = value.indexOf(']');
            return end > 1
                    && value.startsWith(":", end + 1)
                    && isPort(value.substring(end + 2))
                    && isHost(value.substring(1, end));
        }
        int colon = value.lastIndexOf(':');
        return colon > 0 && isPort(value.substring(colon + 1)) && isHost(value.substring(0, colon));
    }

    /** An address in any of its spellings, or what could be a name. */
    private static boolean isHost(String text) {
        String address = text.replaceFirst("%.*", "");
        return text.contains(":")
                ? address(address).isPresent()
                : !text.matches("[0-9.]*\\.\\.?[0-9.]*") || isNumbers(text);
    }

    /** As inet_aton(3) takes it: one to four numbers, the last filling what is left. */
    private static boolean isNumbers(String text) {
        String[] parts = text.split("\\.", -1);
        if (parts.length > 4) {
            return false;
        }
        for (int i = 0; i < parts.length; i++) {
            long most = i < parts.length - 1 ? 255 : (1L << 8 * (5 - parts.length)) - 1;
            if (!parts[i].matches("[0-9]{1,20}") || !isInt(parts[i], most)) {
                return false;
            }
        }
        return true;
    }

    private static boolean isInt(String digits, long most) {
        boolean octal = digits.length() > 1 && digits.startsWith("0");
        if (octal && digits.matches(".*[89].*")) {
            return false;
        }
        BigInteger n = new BigInteger(digits, octal ? 8 : 10);
        return n.compareTo(BigInteger.valueOf(most)) <= 0;
    }
}
