package tender.core.explain;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import tender.core.office.Protocol;
import tender.core.wire.MalformedException;

/** Chooses a tunnel type from what people need, with the reasons for and against each. */
public final class Chooser {
    /** What somebody needs. */
    public enum Need {
        STRICT_NETWORKS("works from hotels and offices that let only the web out"),
        PHONES("phones too"),
        NOTHING_TO_INSTALL("nothing to install on the device"),
        PASSWORDS("people sign in with name and password"),
        ONE_TIME_CODES("one-time codes"),
        ROAMING("stays up when a phone changes from one line to another"),
        SPEED("as fast as the line"),
        OLD_DEVICES("devices that get no updates any more"),
        FEW_SECRETS("no certificates to look after");

        private final String words;

        Need(String words) {
            this.words = words;
        }

        public String words() {
            return words;
        }

        public String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }

        public static Need parse(String text) {
            for (Need need : values()) {
                if (need.word().equals(text)) {
                    return need;
                }
            }
            throw new MalformedException("need", "needs", "no such need; tender explain choose --help lists them");
        }
    }

    /** How one type answers one need. */
    private record Answer(Protocol protocol, Need need, boolean meets, String reason) {}

    private static final List<Answer> ANSWERS = List.of(
            no(Protocol.WIREGUARD, Need.STRICT_NETWORKS, "speaks UDP only, which strict places stop"),
            yes(Protocol.WIREGUARD, Need.PHONES, "clients for all phones, set up by QR code"),
            no(Protocol.WIREGUARD, Need.NOTHING_TO_INSTALL, "needs its client on most systems"),
            no(Protocol.WIREGUARD, Need.PASSWORDS, "knows keys only, no names and passwords"),
            no(Protocol.WIREGUARD, Need.ONE_TIME_CODES, "knows keys only, no one-time codes"),
            yes(Protocol.WIREGUARD, Need.ROAMING, "goes on from any address without a new handshake"),
            yes(Protocol.WIREGUARD, Need.SPEED, "the quickest of all on the same machine"),
            no(Protocol.WIREGUARD, Need.OLD_DEVICES, "old systems have no client for it"),
            yes(Protocol.WIREGUARD, Need.FEW_SECRETS, "one key pair for each device and nothing that ends"),
            yes(Protocol.OPENVPN, Need.STRICT_NETWORKS, "over TCP 443 it passes where little else does"),
            yes(Protocol.OPENVPN, Need.PHONES, "clients for all phones, set up by one file"),
            no(Protocol.OPENVPN, Need.NOTHING_TO_INSTALL, "needs its client everywhere"),
            yes(Protocol.OPENVPN, Need.PASSWORDS, "asks for name and password where wanted"),
            yes(Protocol.OPENVPN, Need.ONE_TIME_CODES, "asks for one-time codes where the gateway checks them"),
            no(Protocol.OPENVPN, Need.ROAMING, "connects anew after a change of line, in some seconds"),
            no(Protocol.OPENVPN, Need.SPEED, "slower than the others on the same machine"),
            yes(Protocol.OPENVPN, Need.OLD_DEVICES, "old clients of it are still about"),
            no(Protocol.OPENVPN, Need.FEW_SECRETS, "certificates that end and a revocation list to renew"),
            no(Protocol.IKEV2, Need.STRICT_NETWORKS, "needs UDP 500 and 4500, which strict places stop"),
            yes(Protocol.IKEV2, Need.PHONES, "built into phones of both great kinds"),
            yes(Protocol.IKEV2, Need.NOTHING_TO_INSTALL, "built into current desktop and phone systems"),
            yes(Protocol.IKEV2, Need.PASSWORDS, "asks for name and password by EAP"),
            no(Protocol.IKEV2, Need.ONE_TIME_CODES, "built-in clients have no field for one-time codes"),
            yes(Protocol.IKEV2, Need.ROAMING, "moves from line to line (MOBIKE, RFC 4555)"),
            yes(Protocol.IKEV2, Need.SPEED, "runs in the system's kernel on most gateways"),
            no(Protocol.IKEV2, Need.OLD_DEVICES, "old systems know it badly"),
            no(Protocol.IKEV2, Need.FEW_SECRETS, "the gateway needs a certificate that devices believe"),
            no(Protocol.L2TP_IPSEC, Need.STRICT_NETWORKS, "needs UDP 500 and 4500, which strict places stop"),
            yes(Protocol.L2TP_IPSEC, Need.NOTHING_TO_INSTALL, "built into many systems, though newer phones drop it"),
            yes(Protocol.L2TP_IPSEC, Need.PASSWORDS, "asks for name and password"),
            yes(Protocol.L2TP_IPSEC, Need.OLD_DEVICES, "old systems have it built in"),
            no(Protocol.L2TP_IPSEC, Need.PHONES, "newer phones have dropped it"),
            no(Protocol.L2TP_IPSEC, Need.FEW_SECRETS, "one shared secret that a leaver takes along"),
            no(Protocol.L2TP_IPSEC, Need.SPEED, "wraps every packet twice"),
            no(Protocol.L2TP_IPSEC, Need.ROAMING, "connects anew after a change of line"),
            no(Protocol.L2TP_IPSEC, Need.ONE_TIME_CODES, "has no field for one-time codes"));

    private static final Set<Protocol> WEAK = EnumSet.of(Protocol.L2TP_IPSEC);

    /** A type with what speaks for it and against it. */
    public record Choice(Protocol protocol, List<String> speaksFor, List<String> speaksAgainst, boolean weak) {}

    private Chooser() {}

    private static Answer yes(Protocol protocol, Need need, String reason) {
        return new Answer(protocol, need, true, reason);
    }

    private static Answer no(Protocol protocol, Need need, String reason) {
        return new Answer(protocol, need, false, reason);
    }

    /** Best first: fewest needs unmet, then sound before weak. PPTP is never among them: it is broken. */
    public static List<Choice> choose(Set<Need> needs) {
        List<Choice> out = new ArrayList<>();
        for (Protocol protocol : List.of(Protocol.WIREGUARD, Protocol.OPENVPN, Protocol.IKEV2, Protocol.L2TP_IPSEC)) {
            List<String> good = new ArrayList<>();
            List<String> bad = new ArrayList<>();
            for (Answer a : ANSWERS) {
                if (a.protocol() == protocol && needs.contains(a.need())) {
                    (a.meets() ? good : bad).add(a.need().words() + ": " + a.reason());
                }
            }
            if (WEAK.contains(protocol)) {
                bad.add("weak: rests on one secret shared by all");
            }
            out.add(new Choice(protocol, good, bad, WEAK.contains(protocol)));
        }
        out.sort(Comparator.comparing((Choice c) -> c.speaksAgainst().size()).thenComparing(Choice::weak));
        return out;
    }
}
