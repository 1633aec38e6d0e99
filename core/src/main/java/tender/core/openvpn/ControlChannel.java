package tender.core.openvpn;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * A client's control channel: packets of one session put in order, acknowledged and sent again. What it carries is TLS.
 */
final class ControlChannel {
    private static final int FRAGMENT = 1_150;

    private final ControlChannelProtection protection;
    private final Reliability reliability = new Reliability();
    private final byte[] session = new byte[ControlPacket.SESSION_BYTES];
    private byte[] serverSession = new byte[0];
    private boolean sendKeyAgain;

    /** Begins with a reset, which is to be sent. */
    ControlChannel(ControlChannelProtection protection, SecureRandom random) {
        this.protection = protection;
        random.nextBytes(session);
        reliability.send(protection.firstOpcode(), new byte[0]);
    }

    byte[] session() {
        return session;
    }

    /** The server's; empty before it answered. */
    byte[] serverSession() {
        return serverSession;
    }

    boolean isLossy() {
        return reliability.isLossy();
    }

    /**
     * A packet of this session that has something to say; empty where it is of another, or acknowledges alone.
     *
     * @throws tender.core.wire.MalformedException if it cannot be read
     */
    Optional<ControlPacket> open(byte[] bytes) {
        Optional<ControlPacket> ours = protection.unwrap(bytes).filter(this::isOurs);
        ours.ifPresent(p -> reliability.acknowledged(p.acks()));
        return ours.filter(p -> p.id().isPresent());
    }

    private boolean isOurs(ControlPacket packet) {
        if (packet.opcode() == ControlPacket.SERVER_RESET && serverSession.length == 0) {
            serverSession = packet.session();
        }
        return Arrays.equals(packet.session(), serverSession)
                && packet.remoteSession()
                        .filter(s -> !Arrays.equals(s, session))
                        .isEmpty();
    }

    /** The server's answer to the reset: whether it wants the wrapped key once more (type 1, length 2, flag 1). */
    void onReset(ControlPacket reset) {
        reliability.arrived(reset.id().orElse(0), reset.payload());
        reliability.next();
        byte[] flags = reset.payload();
        sendKeyAgain = flags.length >= 6 && flags[1] == 1 && flags[3] == 2 && (flags[5] & 1) == 1;
    }

    /** Whether a packet brought something new; it is acknowledged in any case. */
    boolean arrived(ControlPacket packet) {
        boolean known = packet.opcode() == ControlPacket.CONTROL || packet.opcode() == ControlPacket.SERVER_RESET;
        return known
                && reliability.arrived(packet.id().orElseThrow(), packet.payload())
                && packet.opcode() == ControlPacket.CONTROL;
    }

    /** What the next packet in order carries. */
    Optional<byte[]> next() {
        return reliability.next();
    }

    /** Sends what TLS has to say, in pieces. */
    void say(byte[] out) {
        for (int at = 0; at < out.length; at += FRAGMENT) {
            reliability.send(
                    sendKeyAgain ? ControlPacket.CONTROL_WITH_KEY : ControlPacket.CONTROL,
                    Arrays.copyOfRange(out, at, Math.min(out.length, at + FRAGMENT)));
            sendKeyAgain = false;
        }
    }

    /** Everything that is to go out now: new, unacknowledged, or an acknowledgement. */
    List<byte[]> toSend(Instant now) {
        List<byte[]> out = new ArrayList<>();
        for (Reliability.Outgoing o : reliability.due(now)) {
            List<Integer> acks = serverSession.length == 0
                    ? List.of()
                    : reliability.takeAcknowledgements(ControlPacket.MAX_ACKS / 2);
            out.add(protection.wrap(
                    new ControlPacket(
                            o.opcode(),
                            session,
                            acks,
                            acks.isEmpty() ? Optional.empty() : Optional.of(serverSession),
                            Optional.of(o.id()),
                            o.payload()),
                    now));
        }
        while (serverSession.length > 0 && reliability.owesAcknowledgement()) {
            out.add(protection.wrap(
                    new ControlPacket(
                            ControlPacket.ACK,
                            session,
                            reliability.takeAcknowledgements(ControlPacket.MAX_ACKS),
                            Optional.of(serverSession),
                            Optional.empty(),
                            new byte[0]),
                    now));
        }
        return out;
    }
}
