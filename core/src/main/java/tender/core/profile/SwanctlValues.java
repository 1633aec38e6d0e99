package tender.core.profile;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Pattern;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;

/** What the settings of a swanctl connection may say, by the kind of their value. */
final class SwanctlValues {
    private static final Set<String> SWITCH = Set.of("1", "yes", "true", "enabled", "0", "no", "false", "disabled");
    /** As strtoul(3) reads it with base 0; nothing at all is 0. */
    private static final String NUMBER = "(?:\\s*[+-]?(?:0[xX][0-9a-fA-F]+|0[0-7]*|[1-9][0-9]*))?";

    private static final Pattern WHOLE = Pattern.compile(NUMBER);
    private static final Pattern TIME = Pattern.compile(NUMBER + "\\s*[dhmsDHMS]?");
    private static final Pattern BYTES = Pattern.compile(NUMBER + "\\s*[kKmMgG]?");
    private static final Pattern BITS = Pattern.compile("(?:\\s*[+-]?[01]+)?");
    private static final Pattern MARK = Pattern.compile("(?:%unique|%unique-dir|" + NUMBER + ")(?:/" + NUMBER + ")?");
    private static final Pattern SET_MARK = Pattern.compile("(?:%same|" + NUMBER + ")(?:/" + NUMBER + ")?");
    private static final Pattern INTERFACE = Pattern.compile("%unique|%unique-dir|" + NUMBER);
    private static final Pattern PRINTABLE = Pattern.compile("[ -~]*");
    private static final Pattern AUTH =
            Pattern.compile("(?s)(?:ike:|pubkey|rsa|ecdsa|bliss).*|(?i:psk|(?:xauth|eap).*)");

    private SwanctlValues() {}

    static boolean takes(String kind, String value) {
        boolean printable = PRINTABLE.matcher(value).matches();
        return switch (kind) {
            case "files", "any" -> true;
            case "text", "list" -> printable;
            default -> printable && means(kind, value);
        };
    }

    private static boolean means(String kind, String value) {
        return switch (kind) {
            case "switch" -> SWITCH.contains(value.toLowerCase(Locale.ROOT));
            case "number" -> WHOLE.matcher(value).matches();
            case "time" -> TIME.matcher(value).matches();
            case "bytes" -> BYTES.matcher(value).matches();
            case "bits" -> BITS.matcher(value).matches();
            case "mark" -> MARK.matcher(value).matches();
            case "mark-set" -> SET_MARK.matcher(value).matches();
            case "interface-id" -> INTERFACE.matcher(value).matches();
            case "padding" -> value.equals("mtu") || WHOLE.matcher(value).matches();
            case "auth" -> AUTH.matcher(value).matches();
            case "addresses" -> SectionFile.items(value).stream().allMatch(SwanctlValues::isAddress);
            case "selectors" -> SectionFile.items(value).stream().allMatch(SwanctlSelector::isOne);
            case "pool" -> isPool(value);
            case "attributes" -> SectionFile.items(value).stream().allMatch(SwanctlValues::isNetwork);
            case "action" -> actions(value, Set.of("none", "clear", "trap", "route", "start", "restart"));
            case "proposals-ike" ->
                SectionFile.items(value).stream().allMatch(p -> SwanctlProposal.isOne(p, SwanctlProposal.Use.IKE));
            case "proposals-esp" ->
                SectionFile.items(value).stream().allMatch(p -> SwanctlProposal.isOne(p, SwanctlProposal.Use.ESP));
            case "proposals-ah" ->
                SectionFile.items(value).stream().allMatch(p -> SwanctlProposal.isOne(p, SwanctlProposal.Use.AH));
            default -> List.of(kind.split("\\|")).contains(value.toLowerCase(Locale.ROOT));
        };
    }

    private static boolean actions(String value, Set<String> known) {
        return Arrays.stream(value.split("\\|"))
                .filter(a -> !a.isEmpty())
                .allMatch(a -> known.contains(a.toLowerCase(Locale.ROOT)));
    }

    /** A network, a range, or one address. */
    private static boolean isPool(String value) {
        int hyphen = value.indexOf('-');
        if (hyphen < 0) {
            return isNetwork(value);
        }
        String from = value.substring(0, hyphen).strip();
        String to = value.substring(hyphen + 1).strip();
        return isAddress(from) && isAddress(to) && from.contains(":") == to.contains(":");
    }

    private static boolean isNetwork(String value) {
        int slash = value.indexOf('/');
        return isAddress(slash < 0 ? value : value.substring(0, slash));
    }

    static boolean isAddress(String text) {
        if (Set.of("%any", "%any4", "%any6").contains(text)) {
            return true;
        }
        try {
            IpAddress address = IpAddress.parse(text);
            return address.isV4() || text.indexOf('.') < 0;
        } catch (MalformedException e) {
            return false;
        }
    }
}
