package tender.core.trial;

import java.util.Optional;
import tender.core.credential.TunnelKey;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.profile.WireGuardFile;
import tender.core.wireguard.StatusDump;

/** What the gateway's own file and status say about a profile; each answer compares the two ends. */
public record GatewayEvidence(
        boolean active,
        boolean keyAgrees,
        Optional<Integer> listensOn,
        boolean portAgrees,
        boolean clientWritten,
        boolean clientActive,
        boolean presharedKeyAgrees,
        boolean tunnelAddressAgrees) {

    public static GatewayEvidence of(Question question, WireGuardFile file, Optional<StatusDump.Interface> status) {
        TunnelKey client = question.own().publicKey();
        Optional<WireGuardFile.Peer> written = file.peer(client);
        Optional<StatusDump.Peer> live = status.flatMap(s ->
                s.peers().stream().filter(p -> p.publicKey().equals(client)).findFirst());
        Optional<TunnelKey> key = status.flatMap(StatusDump.Interface::publicKey)
                .or(() -> file.own()
                        .flatMap(WireGuardFile.Interface::privateKey)
                        .map(secret -> TunnelKeyPair.ofPrivate(secret).publicKey()));
        Optional<Integer> port = status.map(StatusDump.Interface::listenPort)
                .or(() ->
                        file.own().flatMap(WireGuardFile.Interface::listenPort).map(Port::number));
        return new GatewayEvidence(
                status.isPresent(),
                key.map(question.gatewayKey()::equals).orElse(true),
                port,
                port.map(p -> p == question.endpoint().port().number()).orElse(true),
                written.isPresent(),
                live.isPresent(),
                live.map(p -> p.presharedKey().equals(question.presharedKey()))
                        .or(() -> written.map(p -> p.presharedKey().equals(question.presharedKey())))
                        .orElse(true),
                live.map(p -> question.source(IpAddress.Family.V4)
                                .map(own -> p.allowed().stream()
                                        .anyMatch(n -> n.network().contains(own)))
                                .orElse(true))
                        .orElse(true));
    }
}
