package tender.core.network;

import java.util.Map;
import tender.core.wire.MalformedException;

/** A transport port that can be dialled: 1 to 65535. */
public record Port(int number) {
    /** Services by their names, as systems list them (IANA); those that people call. */
    private static final Map<String, Integer> SERVICES = Map.ofEntries(
            Map.entry("ssh", 22),
            Map.entry("smtp", 25),
            Map.entry("domain", 53),
            Map.entry("http", 80),
            Map.entry("pop3", 110),
            Map.entry("ntp", 123),
            Map.entry("imap2", 143),
            Map.entry("snmp", 161),
            Map.entry("ldap", 389),
            Map.entry("https", 443),
            Map.entry("isakmp", 500),
            Map.entry("submission", 587),
            Map.entry("ldaps", 636),
            Map.entry("imaps", 993),
            Map.entry("pop3s", 995),
            Map.entry("openvpn", 1194),
            Map.entry("ipsec-nat-t", 4500));

    public Port {
        if (number < 1 || number > 65535) {
            throw new MalformedException("port", "", "a port is a number from 1 to 65535");
        }
    }

    /**
     * A number from 1 to 65535, without zeros before it.
     *
     * @throws MalformedException where it is none
     */
    public static Port parse(String text) {
        if (!text.matches("[1-9][0-9]{0,4}")) {
            throw new MalformedException("port", "", "a port is a number from 1 to 65535");
        }
        return new Port(Integer.parseInt(text));
    }

    /** A number, or the name of a service that stands for one. */
    public static Port ofNumberOrService(String text) {
        Integer known = SERVICES.get(text);
        return known != null ? new Port(known) : parse(text);
    }

    @Override
    public String toString() {
        return Integer.toString(number);
    }
}
