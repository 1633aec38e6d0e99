package tender.core.ike;

import java.nio.ByteBuffer;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import tender.core.network.IpAddress;

/**
 * What two sides agreed on in the first exchange.
 *
 * @param modern whether the other side said which hashes it takes (RFC 7427 §4)
 * @param fragments whether it takes messages in parts (RFC 7383)
 * @param natSource what it says of its own address (RFC 7296 §2.23); empty where it said nothing
 */
record Agreed(
        Keys keys,
        Proposal suite,
        Sides<byte[]> spis,
        Sides<byte[]> nonces,
        Sides<byte[]> messages,
        boolean modern,
        boolean fragments,
        Optional<byte[]> natSource) {

    /** One value of each side. */
    record Sides<T>(T initiator, T responder) {}

    /** What a side's proof is made over; {@code identity} is its own (RFC 7296 §2.15). */
    byte[] octets(boolean initiator, byte[] identity) {
        return Proof.octets(
                initiator ? messages.initiator() : messages.responder(),
                initiator ? nonces.responder() : nonces.initiator(),
                keys.prf(),
                keys.proof(initiator),
                identity);
    }

    /** A proof by a shared secret. */
    Proof shared(byte[] secret, boolean initiator, byte[] identity) {
        return Proof.shared(keys.prf(), secret, octets(initiator, identity));
    }

    /** A message, sealed by whom its flags say it is from; in parts where it is long and {@code inParts}. */
    List<byte[]> sealed(int exchange, int flags, int id, List<Payload> payloads, boolean inParts) {
        return SealedMessage.write(
                keys.sealer((flags & Message.FROM_INITIATOR) != 0),
                spis.initiator(),
                spis.responder(),
                exchange,
                flags,
                id,
                payloads,
                inParts);
    }

    /** Whether a message is the server's of this connection. */
    boolean isOf(Message m) {
        return Arrays.equals(m.spiR(), spis.responder());
    }

    /** Whether the server, called at this address, says that it stands at another (RFC 7296 §2.23). */
    boolean serverBehindNat(IpAddress address, int port) {
        byte[] here = Prf.hashed(
                "SHA1",
                spis.initiator(),
                spis.responder(),
                address.toBytes(),
                ByteBuffer.allocate(2).putShort((short) port).array());
        return natSource.filter(said -> !Arrays.equals(said, here)).isPresent();
    }

    /** The tunnel's two directions, the caller's first. */
    Sealer[] tunnel(Proposal chosen, SecureRandom random) {
        return keys.tunnel(chosen, Bytes.join(nonces.initiator(), nonces.responder()), random);
    }
}
