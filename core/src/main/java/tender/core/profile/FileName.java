package tender.core.profile;

import java.util.Locale;

/**
 * The one rule for names of handed-out files: who, which office, which revision. WireGuard clients take the name as the
 * interface's, so it has at most 15 characters of letters, digits and hyphens before its ending.
 */
public final class FileName {
    private static final int MAX_STEM = 15;

    private FileName() {}

    public static String of(String person, String gateway, int revision) {
        String end = "-r" + revision;
        String office = part(gateway, 5);
        String who = part(person, MAX_STEM - end.length() - office.length() - 1);
        return who + "-" + office + end + ".conf";
    }

    /** The same for an OpenVPN file, whose programs show the name in a list. */
    public static String openVpn(String person, String gateway, int revision) {
        return of(person, gateway, revision).replaceAll("conf$", "ovpn");
    }

    /** The same for what a person types in or reads, and the parts that go with it. */
    public static String settings(String person, String gateway, int revision) {
        return of(person, gateway, revision).replaceAll("conf$", "txt");
    }

    private static String part(String text, int length) {
        String plain = text.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]", "");
        return plain.length() > length ? plain.substring(0, length) : plain.isEmpty() ? "x" : plain;
    }
}
