package tender.core.sheet;

import static tender.core.sheet.Prompt.Kind.CHOOSE;
import static tender.core.sheet.Prompt.Kind.FILE;
import static tender.core.sheet.Prompt.Kind.SECRET;
import static tender.core.sheet.Prompt.Kind.TYPE;

import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.office.Protocol;
import tender.core.profile.ClientProfile;
import tender.core.wire.MalformedException;

/**
 * One page for one device: prompts in the order in which a device of that kind shows them. Secrets are named, never told.
 *
 * @param warnings what is weak about this kind of connection
 * @param facts what is good to know afterwards
 */
public record SettingsSheet(
        String title, Platform platform, List<Prompt> prompts, List<String> warnings, List<String> facts) {
    private static final DateTimeFormatter DAY =
            DateTimeFormatter.ofPattern("d MMMM uuuu", Locale.ENGLISH).withZone(ZoneOffset.UTC);
    private static final String HANDED = "the passphrase that you were told with the link";

    public SettingsSheet {
        title = ClientProfile.printable(title);
        prompts = List.copyOf(prompts);
        warnings = List.copyOf(warnings);
        facts = List.copyOf(facts);
    }

    public static SettingsSheet of(Connection c, Platform platform) {
        List<Prompt> prompts = switch (c.protocol()) {
            case IKEV2 -> platform == Platform.LINUX ? folders(c) : ike(c, platform);
            case L2TP_IPSEC -> l2tp(c);
            case PPTP -> pptp(c);
            case OPENVPN, WIREGUARD -> imported(c, platform);
            case TLS ->
                throw new MalformedException(
                        "protocol", "", "what a device asks for a TLS-based VPN depends on its maker's client");
        };
        return new SettingsSheet(c.title(), platform, prompts, warnings(c), facts(c));
    }

    private static Prompt server(Connection c) {
        return new Prompt(
                TYPE,
                "server address",
                c.server()
                        .map(e -> e.host().toString())
                        .orElseThrow(() -> new MalformedException("endpoint", "", "no address to call is known")),
                "where the office is reached");
    }

    private static Prompt kind(String value) {
        return new Prompt(CHOOSE, "kind of VPN", value, "how the tunnel is made");
    }

    private static List<Prompt> ike(Connection c, Platform platform) {
        List<Prompt> out = new ArrayList<>();
        if (c.byCertificate()) {
            out.add(new Prompt(
                    FILE,
                    "certificate",
                    c.file(),
                    platform == Platform.WINDOWS
                            ? "open it first; it belongs to the computer, not the user, and its authority to the trusted roots"
                            : "open it first; your device keeps the certificate from it"));
            out.add(new Prompt(SECRET, "password of the certificate file", HANDED, "opens that file, nothing else"));
        }
        out.add(kind("IKEv2"));
        out.add(new Prompt(TYPE, "description", c.title(), "any name you like"));
        out.add(server(c));
        c.serverId()
                .ifPresent(id -> out.add(new Prompt(
                        TYPE, "remote ID (server identity)", id, "the name that the office's certificate must have")));
        out.add(new Prompt(TYPE, "local ID (your identity)", c.identity(), "who your device says it is"));
        if (c.byCertificate()) {
            out.add(new Prompt(
                    CHOOSE, "authentication", "certificate: " + c.identity(), "no user name and no password"));
        } else {
            out.add(new Prompt(CHOOSE, "authentication", "user name and password", "EAP-MSCHAPv2"));
            out.addAll(account(c));
            shared(c, out);
        }
        return out;
    }

    private static void shared(Connection c, List<Prompt> out) {
        if (c.sharedSecret()) {
            out.add(new Prompt(
                    SECRET,
                    "pre-shared key (shared secret)",
                    "the office's shared secret",
                    "one for all; asked apart from your password, and not the same"));
        }
    }

    private static List<Prompt> account(Connection c) {
        return List.of(
                new Prompt(TYPE, "user name", c.identity(), "your account"),
                new Prompt(
                        SECRET,
                        "password",
                        "the password of your account " + c.identity(),
                        "the office's, not your device's"));
    }

    /** A Linux machine takes files, not prompts. */
    private static List<Prompt> folders(Connection c) {
        List<Prompt> out = new ArrayList<>();
        out.add(new Prompt(FILE, "/etc/swanctl/conf.d", "the file under conf.d", "the connection"));
        if (c.byCertificate()) {
            out.add(new Prompt(FILE, "/etc/swanctl/x509", "the file under x509", "the device's certificate"));
            out.add(new Prompt(FILE, "/etc/swanctl/private", "the file under private, mode 0600", "its key"));
        } else {
            out.addAll(account(c));
        }
        out.add(new Prompt(FILE, "/etc/swanctl/x509ca", "the file under x509ca", "the authority's certificate"));
        out.add(new Prompt(TYPE, "take up", "swanctl --load-all", "reads the files"));
        return out;
    }

    private static List<Prompt> l2tp(Connection c) {
        List<Prompt> out = new ArrayList<>();
        out.add(kind("L2TP over IPsec, with a pre-shared key"));
        out.add(new Prompt(TYPE, "description", c.title(), "any name you like"));
        out.add(server(c));
        out.addAll(account(c));
        shared(c, out);
        out.add(new Prompt(
                CHOOSE,
                "send everything through the tunnel",
                c.everything() ? "yes" : "no",
                "what was granted to you"));
        return out;
    }

    private static List<Prompt> pptp(Connection c) {
        List<Prompt> out = new ArrayList<>(List.of(kind("PPTP"), server(c)));
        out.addAll(account(c));
        out.add(new Prompt(CHOOSE, "encryption", "128 bits, required", "refuse a connection without"));
        return out;
    }

    private static List<Prompt> imported(Connection c, Platform platform) {
        boolean wireGuard = c.protocol() == Protocol.WIREGUARD;
        List<Prompt> out = new ArrayList<>();
        out.add(new Prompt(
                CHOOSE,
                "client",
                "a " + c.protocol().title() + " client, from "
                        + (platform == Platform.LINUX ? "your distribution" : "your device's own app store"),
                "if it is not there yet"));
        out.add(new Prompt(
                FILE,
                "import",
                c.file(),
                wireGuard ? "or scan the QR code that was handed out with it" : "everything is inside"));
        if (!c.byCertificate() && !wireGuard) {
            out.addAll(account(c));
        }
        return out;
    }

    private static List<String> warnings(Connection c) {
        return switch (c.protocol()) {
            case L2TP_IPSEC ->
                List.of("L2TP/IPsec rests on one secret shared by all; whoever knows it can pretend to be the office.");
            case PPTP -> List.of("PPTP is broken: what is sent through it can be read by others on the way.");
            default -> List.of();
        };
    }

    private static List<String> facts(Connection c) {
        List<String> out = new ArrayList<>();
        out.add(
                c.everything()
                        ? "Through the tunnel: everything."
                        : "Through the tunnel: "
                                + c.reach().stream().map(Cidr::toString).collect(Collectors.joining(", "))
                                + "; all else goes its usual way.");
        if (!c.dns().isEmpty()) {
            out.add("Names are looked up at "
                    + c.dns().stream().map(IpAddress::toString).collect(Collectors.joining(", ")) + ".");
        }
        c.authority()
                .ifPresent(
                        a -> out.add("The office's authority is " + a.name() + ", SHA-256 " + a.fingerprint() + "."));
        c.ends().ifPresent(end -> out.add("It works until " + DAY.format(end) + "."));
        out.add("Made for this device alone; never pass it on.");
        return out;
    }
}
