package tender.core.trial;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.profile.WireGuardFile;
import tender.core.wire.MalformedException;

/**
 * What a trial asks: the very contents of a profile, and the inside addresses that should answer.
 *
 * @param notLookedAt what the file says beside it that may decide reach
 */
public record Question(
        TunnelKeyPair own,
        List<InterfaceAddress> addresses,
        TunnelKey gatewayKey,
        Optional<Secret> presharedKey,
        Endpoint endpoint,
        List<InterfaceAddress> reach,
        List<IpAddress> dns,
        Optional<IpAddress> gatewayInside,
        Optional<IpAddress> insideHost,
        List<String> notLookedAt) {
    public Question {
        notLookedAt = List.copyOf(notLookedAt);
    }

    /**
     * Takes a client's file as it is; refuses one that a client could not use either. Of several peers the one is asked that
     * the file sends the inside host's packets to, else the first that can be called.
     */
    public static Question of(WireGuardFile file, Optional<IpAddress> gatewayInside, Optional<IpAddress> insideHost) {
        WireGuardFile.Interface own = file.own().orElseThrow(() -> lacking("an [Interface] section"));
        if (own.addresses().isEmpty()) {
            throw lacking("an address inside the tunnel");
        }
        WireGuardFile.Peer peer = insideHost
                .flatMap(host -> towards(file, host))
                .or(() -> file.peers().stream()
                        .filter(p -> p.endpoint().isPresent())
                        .findFirst())
                .or(() -> file.peers().stream().findFirst())
                .orElseThrow(() -> lacking("a [Peer] section"));
        return new Question(
                TunnelKeyPair.ofPrivate(own.privateKey().orElseThrow(() -> lacking("the private key"))),
                own.addresses(),
                peer.publicKey().orElseThrow(() -> lacking("the gateway's public key")),
                peer.presharedKey(),
                peer.endpoint().orElseThrow(() -> lacking("an endpoint of the peer that it sends to")),
                peer.allowed(),
                own.dns().stream()
                        .flatMap(h -> h instanceof Host.Literal l ? Stream.of(l.address()) : Stream.empty())
                        .toList(),
                gatewayInside,
                insideHost,
                file.routesElsewhere());
    }

    /** The peer with the narrowest network that holds an address, as packets are sent; of two with the same the last has it. */
    private static Optional<WireGuardFile.Peer> towards(WireGuardFile file, IpAddress host) {
        return file.peers().stream()
                .filter(p -> narrowest(p, host) >= 0)
                .reduce((a, b) -> narrowest(b, host) >= narrowest(a, host) ? b : a);
    }

    private static int narrowest(WireGuardFile.Peer peer, IpAddress host) {
        return peer.allowed().stream()
                .map(InterfaceAddress::network)
                .filter(n -> n.contains(host))
                .mapToInt(Cidr::prefix)
                .max()
                .orElse(-1);
    }

    private static MalformedException lacking(String what) {
        return new MalformedException("profile", "", "the file lacks " + what);
    }

    /** The profile's own tunnel address of a family. */
    public Optional<IpAddress> source(IpAddress.Family family) {
        return addresses.stream()
                .map(InterfaceAddress::address)
                .filter(a -> a.family() == family)
                .findFirst();
    }

    public boolean reaches(IpAddress address) {
        return reach.stream().anyMatch(network -> network.network().contains(address));
    }
}
