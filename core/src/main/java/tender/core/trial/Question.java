package tender.core.trial;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.profile.WireGuardFile;
import tender.core.wire.MalformedException;

/** What a trial asks: the very contents of a profile, and the inside addresses that should answer. */
public record Question(
        TunnelKeyPair own,
        List<InterfaceAddress> addresses,
        TunnelKey gatewayKey,
        Optional<Secret> presharedKey,
        Endpoint endpoint,
        List<InterfaceAddress> reach,
        List<IpAddress> dns,
        Optional<IpAddress> gatewayInside,
        Optional<IpAddress> insideHost) {

    /** Takes a client's file as it is; refuses one that a client could not use either. */
    public static Question of(WireGuardFile file, Optional<IpAddress> gatewayInside, Optional<IpAddress> insideHost) {
        WireGuardFile.Interface own = file.own().orElseThrow(() -> lacking("an [Interface] section"));
        if (file.peers().size() != 1) {
            throw new MalformedException(
                    "profile",
                    "",
                    "a client's file has one peer; this has " + file.peers().size());
        }
        WireGuardFile.Peer peer = file.peers().get(0);
        return new Question(
                TunnelKeyPair.ofPrivate(own.privateKey().orElseThrow(() -> lacking("the private key"))),
                own.addresses(),
                peer.publicKey().orElseThrow(() -> lacking("the gateway's public key")),
                peer.presharedKey(),
                peer.endpoint().orElseThrow(() -> lacking("an endpoint")),
                peer.allowed(),
                own.dns().stream()
                        .flatMap(h -> h instanceof Host.Literal l ? Stream.of(l.address()) : Stream.empty())
                        .toList(),
                gatewayInside,
                insideHost);
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
