package tender.core.profile;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * The one rule for names of handed-out files: who, which device, where, which revision, as in {@code mara-ph-pi2-r1.conf}. All
 * but the revision is the stem, which a profile keeps for good and shares with no other. WireGuard clients take the name as
 * the interface's, so it has at most 15 characters of letters, digits and hyphens before its ending, the revision included.
 */
public final class FileName {
    /** So long, and a revision of two digits, make an interface name. */
    static final int MAX_STEM = 11;

    private static final int LEAST_DEVICE = 2;
    private static final int LEAST_WHERE = 3;

    private FileName() {}

    /**
     * Stems for a profile, the best first; whoever keeps them takes the first that no other profile has.
     *
     * @param unique anything that is another for every profile, such as its id
     */
    public static List<String> stems(String person, String device, String gateway, String unique) {
        String who = plain(person);
        String what = plain(device);
        String where = plain(gateway);
        int room = MAX_STEM - 2;
        what = cut(what, Math.max(LEAST_DEVICE, room - who.length() - where.length()));
        where = cut(where, Math.max(LEAST_WHERE, room - who.length() - what.length()));
        who = cut(who, Math.max(1, room - what.length() - where.length()));
        List<String> out = new ArrayList<>(List.of(who + "-" + what + "-" + where));
        for (int i = 2; i < 10; i++) {
            out.add(who + "-" + what.substring(0, what.length() - 1) + i + "-" + where);
        }
        String rest = plain(unique);
        String short3 = cut(where, LEAST_WHERE);
        int left = MAX_STEM - 2 - short3.length() - 2;
        for (int from = 0; from + left <= rest.length(); from += left) {
            out.add(cut(who, 2) + "-" + rest.substring(from, from + left) + "-" + short3);
        }
        return out;
    }

    /** Of a WireGuard file. */
    public static String of(String stem, int revision) {
        return stem + "-r" + revision + ".conf";
    }

    /** Of an OpenVPN file. */
    public static String openVpn(String stem, int revision) {
        return stem + "-r" + revision + ".ovpn";
    }

    /** Of what a person types in or reads, and of the parts that go with it. */
    public static String settings(String stem, int revision) {
        return stem + "-r" + revision + ".txt";
    }

    private static String plain(String text) {
        String plain = text.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]", "");
        return plain.isEmpty() ? "x" : plain;
    }

    /** A number at the end tells {@code pier1} from {@code pier2}, so that it stays. */
    private static String cut(String text, int length) {
        if (text.length() <= length) {
            return text;
        }
        char last = text.charAt(text.length() - 1);
        return length > 1 && Character.isDigit(last) ? text.substring(0, length - 1) + last : text.substring(0, length);
    }
}
