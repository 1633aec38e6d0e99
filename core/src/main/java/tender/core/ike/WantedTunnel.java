package tender.core.ike;

import java.security.SecureRandom;
import java.util.List;
import tender.core.network.Cidr;
import tender.core.wire.MalformedException;

/** The tunnel that a caller wants (RFC 7296 §1.2), and what it gets. */
record WantedTunnel(IkeSettings settings, byte[] spi) {
    /** What the server gave. */
    record Got(Proposal suite, Assigned assigned, List<Cidr> reach, EspTunnel tunnel) {}

    static WantedTunnel of(IkeSettings settings, SecureRandom random) {
        byte[] spi = Bytes.random(random, 4);
        spi[0] |= 0x10; // the first 256 values mean something else
        return new WantedTunnel(settings, spi);
    }

    List<Payload> payloads() {
        List<Cidr> to = settings.reach().isEmpty() ? List.of(Cidr.EVERYTHING_V4) : settings.reach();
        List<Cidr> from = settings.v6() ? List.of(Cidr.EVERYTHING_V4, Cidr.EVERYTHING_V6) : List.of(Cidr.EVERYTHING_V4);
        return List.of(
                Assigned.request(true, settings.v6()),
                new Payload(Payload.SA, Proposal.encode(Proposal.parse(Proposal.ESP, settings.tunnelProposals(), spi))),
                new Payload(Payload.SELECTORS_INITIATOR, Selectors.encode(from)),
                new Payload(Payload.SELECTORS_RESPONDER, Selectors.encode(to)));
    }

    /** @throws MalformedException if the server gave no tunnel, or one by algorithms that are not known here */
    Got got(List<Payload> payloads, Agreed agreed, SecureRandom random) {
        Proposal chosen = Message.one(payloads, Payload.SA)
                .map(p -> Proposal.decode(p.body()))
                .filter(all -> all.size() == 1 && all.get(0).spi().length == 4)
                .map(all -> all.get(0))
                .orElseThrow(() -> new MalformedException("tunnel", "own", "the server gave no tunnel"));
        if (!chosen.transforms().stream().allMatch(Transform::isKnown)) {
            throw new MalformedException("tunnel", "own", "the server chose algorithms that were not offered");
        }
        Sealer[] both = agreed.tunnel(chosen, random);
        return new Got(
                chosen,
                Message.one(payloads, Payload.CONFIGURATION).map(Assigned::read).orElse(Assigned.NOTHING),
                Message.one(payloads, Payload.SELECTORS_RESPONDER)
                        .map(p -> Selectors.decode(p.body()))
                        .orElse(List.of()),
                new EspTunnel(chosen.spi(), spi, both[0], both[1]));
    }
}
