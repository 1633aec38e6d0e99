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
    record Case(Question question, Observation seen, Optional<GatewayEvidence> evidence, Optional<TrialContext> known) {
        boolean known(Predicate<GatewayEvidence> test) {
            return evidence.filter(test).isPresent();
        }

        boolean agrees() {
            return known(e -> e.keyAgrees() && e.portAgrees() && e.clientActive() && e.presharedKeyAgrees());
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
                            "the peer's public key in the file is the client's own key",
                            "put the gateway's public key there, or make the file anew: tender profile renew PROFILE"),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "port-differs",
                            CERTAIN,
                            c -> c.known(e -> !e.portAgrees()),
                            "the listener is on another port than in the profile",
                            "renew the profile for the listener's present port: tender profile renew PROFILE; or move the listener back"),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "port-refused",
                            LIKELY,
                            c -> c.seen().path() == Observation.Path.REFUSED
                                    && c.evidence().isEmpty(),
                            "nothing listens on that port: the profile has the wrong port, or the listener is off",
                            "compare the port with the listener's, and check that the listener runs"),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "listener-off",
                            LIKELY,
                            c -> c.seen().path() == Observation.Path.REFUSED && c.known(GatewayEvidence::portAgrees),
                            "the port is right, but nothing listens at that address: the name resolves to another machine, or the listener is bound elsewhere",
                            "check the name's address and the listener's interface"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "preshared-key-differs",
                            CERTAIN,
                            c -> c.seen().handshake() == Observation.Handshake.UNREADABLE,
                            "the gateway answered, but the preshared keys differ",
                            "write the records to the gateway: tender gateway sync GATEWAY; a file from elsewhere must be created again there"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "under-load",
                            CERTAIN,
                            c -> c.seen().handshake() == Observation.Handshake.UNDER_LOAD,
                            "the gateway is under load and asks clients to prove their address first",
                            "try again when the load is lower"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "gateway-key-differs",
                            CERTAIN,
                            c -> c.known(e -> !e.keyAgrees()),
                            "the profile has another public key than the gateway",
                            "renew the profile with the gateway's present key: tender profile renew PROFILE"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "client-unknown",
                            CERTAIN,
                            c -> c.known(e -> !e.clientWritten() && !e.clientActive()),
                            "the gateway does not know this client's key",
                            "write the records to the gateway, which adds the peer: tender gateway sync GATEWAY"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "client-not-active",
                            CERTAIN,
                            c -> c.known(e -> e.clientWritten() && e.active() && !e.clientActive()),
                            "the client is in the gateway's file, but the gateway has not loaded the file",
                            "reload the gateway: tender gateway sync GATEWAY"),
                    CauseTable.<Case>pathBlocked(
                            Rung.HANDSHAKE,
                            c -> c.known().filter(k -> k.blocked().isPresent()).isPresent()),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "path-blocked",
                            LIKELY,
                            Case::agrees,
                            "both sides agree on keys and port, so packets are lost on the way: a firewall rule, or a missing port forward",
                            "check the forward and the firewall rules in front of the gateway for this udp port"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "stamp-not-newer",
                            POSSIBLE,
                            Case::agrees,
                            "the gateway has seen a later timestamp from this key: another client's clock is ahead",
                            "compare the clocks of the devices that used this key"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "path-blocked",
                            POSSIBLE,
                            c -> c.evidence().isEmpty(),
                            "no forward or firewall rule lets the packets through",
                            "read the gateway to find out: tender gateway read GATEWAY"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "gateway-key-differs",
                            POSSIBLE,
                            c -> c.evidence().isEmpty(),
                            "the profile may have another public key than the gateway; a WireGuard gateway does not answer then",
                            "read the gateway to find out: tender gateway read GATEWAY"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "client-unknown",
                            POSSIBLE,
                            c -> c.evidence().isEmpty(),
                            "the gateway may not know this client's key; a WireGuard gateway does not answer unknown keys",
                            "read the gateway to find out: tender gateway read GATEWAY"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "tunnel-address-differs",
                            CERTAIN,
                            c -> c.known(e -> !e.tunnelAddressAgrees()),
                            "the gateway expects another tunnel address from this client and drops its packets",
                            "write the records to the gateway: tender gateway sync GATEWAY"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "tunnel-address-differs",
                            CERTAIN,
                            c -> c.seen().admitted().isPresent(),
                            "the gateway allows another tunnel address for this key and drops packets from the file's address",
                            "write the address that is answered into the file's Address line, or let the gateway admit the file's"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "inside-filter",
                            LIKELY,
                            c -> true,
                            "the keys agree, but the gateway blocks traffic from the tunnel or does not answer ping",
                            "check the gateway's firewall rules for the tunnel interface")))
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
                    "the gateway may allow another tunnel address for this key; it drops packets from any other",
                    "compare the file's Address with the allowed addresses of its key on the gateway"));

    private Causes() {}
}
