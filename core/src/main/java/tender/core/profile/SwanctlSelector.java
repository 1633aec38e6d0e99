package tender.core.profile;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;

/** A traffic selector as strongSwan 5.9 takes it: addresses, and in brackets which protocol and port of theirs. */
final class SwanctlSelector {
    private static final int MAX_PROTOCOL = 255;
    private static final int MAX_PORT = 65_535;
    private static final Pattern BRACKETS = Pattern.compile("(?s)([^\\[]*)\\[([^\\]]*)\\].*");
    private static final Pattern NUMBER =
            Pattern.compile("\\s*\\+?(0[xX][0-9a-fA-F]{1,8}|0[0-7]{0,9}|[1-9][0-9]{0,8})");
    private static final Pattern PORTS = Pattern.compile("\\s*\\+?([0-9]{1,8})(?:-\\s*([0-9]{0,8}))?");
    private static final Set<String> PROTOCOLS = Set.of(
            "icmp",
            "igmp",
            "ipencap",
            "tcp",
            "egp",
            "igp",
            "udp",
            "rdp",
            "dccp",
            "ipv6",
            "rsvp",
            "gre",
            "esp",
            "ah",
            "ipv6-icmp",
            "ospf",
            "ipip",
            "encap",
            "pim",
            "ipcomp",
            "vrrp",
            "l2tp",
            "sctp",
            "udplite");
    private static final Set<String> SERVICES =
            Set.of("ssh", "smtp", "http", "https", "pop3", "imap2", "imaps", "ldap", "ldaps", "echo", "sunrpc", "nfs");

    private SwanctlSelector() {}

    static boolean isOne(String text) {
        if (text.indexOf('[') < 0) {
            return isAddresses(text);
        }
        Matcher m = BRACKETS.matcher(text);
        if (!m.matches() || !isAddresses(m.group(1))) {
            return false;
        }
        String inside = m.group(2);
        int slash = inside.indexOf('/');
        return isProtocol(slash < 0 ? inside : inside.substring(0, slash))
                && (slash < 0 || isPort(inside.substring(slash + 1)));
    }

    private static boolean isAddresses(String text) {
        int hyphen = text.indexOf('-');
        if (hyphen >= 0) {
            String from = text.substring(0, hyphen).strip();
            String to = text.substring(hyphen + 1).strip();
            return SwanctlValues.isAddress(from)
                    && SwanctlValues.isAddress(to)
                    && from.contains(":") == to.contains(":");
        }
        int slash = text.indexOf('/');
        return text.equals("dynamic") || SwanctlValues.isAddress(slash < 0 ? text : text.substring(0, slash));
    }

    /** The networks that hold these addresses; as strongSwan does, a prefix that is too long counts as the longest. */
    static List<Cidr> networks(String text) {
        int hyphen = text.indexOf('-');
        if (hyphen >= 0) {
            return between(
                    IpAddress.parse(text.substring(0, hyphen).strip()),
                    IpAddress.parse(text.substring(hyphen + 1).strip()));
        }
        if (text.startsWith("%any")) {
            return List.of(text.startsWith("%any6") ? Cidr.EVERYTHING_V6 : Cidr.EVERYTHING_V4);
        }
        int slash = text.indexOf('/');
        IpAddress address = IpAddress.parse(slash < 0 ? text : text.substring(0, slash));
        String bits = slash < 0 ? "" : text.substring(slash + 1).replaceFirst("^\\s*(\\d{1,6}).*$", "$1");
        int most = address.family().bits();
        int prefix = slash < 0 ? most : bits.matches("\\d+") ? Math.min(most, Integer.parseInt(bits)) : 0;
        return List.of(Cidr.of(address, prefix));
    }

    private static List<Cidr> between(IpAddress first, IpAddress last) {
        List<Cidr> out = new ArrayList<>();
        IpAddress at = first;
        while (at.compareTo(last) <= 0) {
            int prefix = at.family().bits();
            while (prefix > 0
                    && Cidr.of(at, prefix - 1).first().equals(at)
                    && Cidr.of(at, prefix - 1).last().compareTo(last) <= 0) {
                prefix--;
            }
            Cidr next = Cidr.of(at, prefix);
            out.add(next);
            if (next.last().equals(last)) {
                break; // nothing comes after the last address there is
            }
            at = next.last().plus(1);
        }
        return out;
    }

    private static boolean isProtocol(String text) {
        Matcher m = NUMBER.matcher(text);
        return text.isEmpty()
                || text.equals("any")
                || PROTOCOLS.contains(text.toLowerCase(Locale.ROOT))
                || m.matches() && Long.decode(m.group(1)) <= MAX_PROTOCOL;
    }

    private static boolean isPort(String text) {
        Matcher m = PORTS.matcher(text);
        if (!m.matches()) {
            return text.isEmpty()
                    || text.equals("opaque")
                    || text.equals("any")
                    || SERVICES.contains(text)
                    || WireGuardRules.SERVICES.contains(text);
        }
        boolean range = m.group(2) != null && !m.group(2).isEmpty();
        return Long.parseLong(m.group(1)) <= MAX_PORT && (!range || Long.parseLong(m.group(2)) <= MAX_PORT);
    }
}
