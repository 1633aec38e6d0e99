package tender.service.trial;

import java.util.Optional;
import java.util.Set;
import tender.core.office.Protocol;
import tender.core.trial.Result;
import tender.core.trial.Rung;

/** Which kinds of listeners are tried, and how. */
public final class TrialKinds {
    /** Kinds of which a connection can be made. */
    static final Set<Protocol> CONNECTED = Set.of(Protocol.WIREGUARD, Protocol.OPENVPN, Protocol.IKEV2);
    /** Kinds that are knocked at: that somebody answers is all that can be shown without their own clients. */
    private static final Set<Protocol> KNOCKED = Set.of(Protocol.L2TP_IPSEC, Protocol.TLS);

    private TrialKinds() {}

    static boolean isKnocked(String protocol) {
        return KNOCKED.contains(Protocol.parse(protocol));
    }

    /** @param protocol by its word, such as {@code openvpn} */
    public static boolean isTried(String protocol) {
        return CONNECTED.contains(Protocol.parse(protocol)) || isKnocked(protocol);
    }

    /** How a trial of a kind of listener came out, in a word or two. */
    public static String verdict(String protocol, boolean shown, Optional<Rung> failedAt) {
        return Result.of(isKnocked(protocol), shown, failedAt).label();
    }
}
