package tender.service.trial;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import tender.core.office.Protocol;
import tender.core.trial.Result;
import tender.core.trial.Rung;

/** Which kinds of listeners are tried, and how. */
public final class TrialKinds {
    /** Kinds of which a connection can be made. */
    static final Set<Protocol> CONNECTED = Set.of(Protocol.WIREGUARD, Protocol.OPENVPN, Protocol.IKEV2);
    /** Kinds that are probed: that somebody answers is all that can be shown without their own clients. */
    private static final Set<Protocol> PROBED = Set.of(Protocol.L2TP_IPSEC, Protocol.TLS);

    private TrialKinds() {}

    static boolean isProbed(String protocol) {
        return PROBED.contains(Protocol.parse(protocol));
    }

    /** @param protocol by its word, such as {@code openvpn} */
    public static boolean isTried(String protocol) {
        return CONNECTED.contains(Protocol.parse(protocol)) || isProbed(protocol);
    }

    /** The words of all protocols that are tried. */
    public static List<String> tried() {
        return Arrays.stream(Protocol.values())
                .map(Protocol::word)
                .filter(TrialKinds::isTried)
                .toList();
    }

    /** How a trial of a kind of listener came out, in a word or two. */
    public static String verdict(String protocol, boolean shown, Optional<Rung> failedAt) {
        return Result.of(isProbed(protocol), shown, failedAt).label();
    }
}
