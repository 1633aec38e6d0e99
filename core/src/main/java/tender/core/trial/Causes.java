package tender.core.trial;

import static tender.core.trial.Certainty.CERTAIN;
import static tender.core.trial.Certainty.LIKELY;
import static tender.core.trial.Certainty.POSSIBLE;

import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;

/**
 * The table of causes: for each rung, when a cause applies, how sure it is, and what to do. All rows that apply at the
 * failing rung are given, surest first; a certain one hides the rest.
 */
final class Causes {
    /** What a row judges. */
    record Case(
            Question question, Observation seen, Optional<GatewayEvidence> evidence, Optional<Circumstances> known) {
        boolean known(Predicate<GatewayEvidence> test) {
            return evidence.filter(test).isPresent();
        }

        boolean agrees() {
            return known(e -> e.keyAgrees() && e.portAgrees() && e.clientInForce() && e.presharedKeyAgrees());
        }
    }

    static final CauseTable<Case> TABLE = new CauseTable<Case>(List.of(
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "gateway-key-own",
                            CERTAIN,
                            c -> c.question()
                                    .gatewayKey()
                                    .equals(c.question().own().publicKey()),
                            "the file names its own key as the gateway's",
                            "put the gateway's public key there, or make the file anew: tender profile renew PROFILE"),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "port-differs",
                            CERTAIN,
                            c -> c.known(e -> !e.portAgrees()),
                            "the listener is on another port than the profile calls",
                            "make the file anew for the port that the listener has now: tender profile renew PROFILE; or move the listener back"),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "port-refused",
                            LIKELY,
                            c -> c.seen().path() == Observation.Path.REFUSED
                                    && c.evidence().isEmpty(),
                            "nothing listens on that port: the profile names a wrong port, or the listener is off",
                            "compare the port with the listener's, and see that the listener is on"),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "listener-off",
                            LIKELY,
                            c -> c.seen().path() == Observation.Path.REFUSED && c.known(GatewayEvidence::portAgrees),
                            "the port is right but nothing listens at that address: the name leads to another machine, or the listener is not reachable there",
                            "check where the name leads and which interface the listener is bound to"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "preshared-key-differs",
                            CERTAIN,
                            c -> c.seen().handshake() == Observation.Handshake.UNREADABLE,
                            "the gateway answered, but its answer does not open: the preshared keys differ",
                            "bring the gateway to what the records say: tender gateway apply GATEWAY; a file from elsewhere has to be made anew there"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "under-load",
                            CERTAIN,
                            c -> c.seen().handshake() == Observation.Handshake.UNDER_LOAD,
                            "the gateway is under load and asks callers to prove their address first",
                            "try again when the load is gone"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "gateway-key-differs",
                            CERTAIN,
                            c -> c.known(e -> !e.keyAgrees()),
                            "the profile holds another public key than the gateway has",
                            "make the file anew with the gateway's present key: tender profile renew PROFILE"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "client-unknown",
                            CERTAIN,
                            c -> c.known(e -> !e.clientWritten() && !e.clientInForce()),
                            "the gateway does not know this client's key",
                            "bring the gateway to what the records say, which adds the peer: tender gateway apply GATEWAY"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "client-not-in-force",
                            CERTAIN,
                            c -> c.known(e -> e.clientWritten() && e.inForce() && !e.clientInForce()),
                            "the client stands in the gateway's file, but the gateway has not taken the file up",
                            "reload the gateway: tender gateway apply GATEWAY"),
                    CauseTable.<Case>pathBlocked(
                            Rung.HANDSHAKE,
                            c -> c.known().filter(k -> k.blocked().isPresent()).isPresent()),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "path-blocked",
                            LIKELY,
                            Case::agrees,
                            "both ends agree on keys and port, so packets are lost on the way: a filter, or a missing port forward",
                            "check the forward and the filter in front of the gateway for this port over udp"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "stamp-not-newer",
                            POSSIBLE,
                            Case::agrees,
                            "the gateway has seen a later time stamp from this key: a client with a clock running ahead",
                            "compare the clocks of the devices that used this key"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "path-blocked",
                            POSSIBLE,
                            c -> c.evidence().isEmpty(),
                            "no forward or filter lets the packets through",
                            "read the gateway's files to settle it: tender gateway read GATEWAY"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "gateway-key-differs",
                            POSSIBLE,
                            c -> c.evidence().isEmpty(),
                            "the profile may hold another public key than the gateway has; a WireGuard gateway stays silent then",
                            "read the gateway's files to settle it: tender gateway read GATEWAY"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "client-unknown",
                            POSSIBLE,
                            c -> c.evidence().isEmpty(),
                            "the gateway may not know this client's key; a WireGuard gateway stays silent then",
                            "read the gateway's files to settle it: tender gateway read GATEWAY"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "tunnel-address-differs",
                            CERTAIN,
                            c -> c.known(e -> !e.tunnelAddressAgrees()),
                            "the gateway expects another tunnel address from this client and drops what it sends",
                            "bring the gateway to what the records say: tender gateway apply GATEWAY"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "tunnel-address-differs",
                            CERTAIN,
                            c -> c.seen().admitted().isPresent(),
                            "the gateway admits another tunnel address from this key and drops what comes from the file's",
                            "write the address that is answered into the file's Address line, or let the gateway admit the file's"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "inside-filter",
                            LIKELY,
                            c -> true,
                            "the keys agree, but the gateway lets nothing through the tunnel or does not answer echo",
                            "check the gateway's filter for the tunnel's interface")))
            .with(new CauseTable.Common<>(
                    c -> c.seen().name(),
                    c -> c.seen().path(),
                    c -> c.seen().dialled(),
                    c -> true,
                    Case::known,
                    new CauseTable.Inside<>(
                            c -> c.question().insideHost().isPresent(),
                            c -> c.question()
                                    .insideHost()
                                    .filter(c.question()::reaches)
                                    .isPresent(),
                            c -> c.seen().gateway() == Observation.Echo.ANSWERED)))
            .and(new CauseTable.Row<Case>(
                    Rung.ECHO,
                    "tunnel-address-differs",
                    POSSIBLE,
                    c -> c.evidence().isEmpty() && c.seen().gateway() != Observation.Echo.ANSWERED,
                    "the gateway may admit another tunnel address from this key; it drops what comes from any other",
                    "compare the file's Address with what the gateway admits for its key"));

    private Causes() {}
}
