package tender.core.openvpn;

import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.wire.ByteCursor;
import tender.core.wire.MalformedException;

/**
 * A packet of the control channel without its protection.
 *
 * @param acks numbers of packets that arrived
 * @param remoteSession whose packets are acknowledged; there where {@code acks} are
 * @param id empty for a bare acknowledgement
 */
record ControlPacket(
        int opcode,
        byte[] session,
        List<Integer> acks,
        Optional<byte[]> remoteSession,
        Optional<Integer> id,
        byte[] payload) {
    static final int SOFT_RESET = 3;
    static final int CONTROL = 4;
    static final int ACK = 5;
    static final int DATA_V1 = 6;
    static final int CLIENT_RESET = 7;
    static final int SERVER_RESET = 8;
    static final int DATA_V2 = 9;
    static final int CLIENT_RESET_V3 = 10;
    static final int CONTROL_WITH_KEY = 11;

    static final int SESSION_BYTES = 8;
    static final int MAX_ACKS = 8;

    /** All behind the session id, as it is protected by the protection. */
    byte[] rest() {
        ByteBuffer out = ByteBuffer.allocate(1 + 4 * acks.size() + SESSION_BYTES + 4 + payload.length);
        out.put((byte) acks.size());
        acks.forEach(out::putInt);
        if (!acks.isEmpty()) {
            out.put(remoteSession.orElseThrow());
        }
        id.ifPresent(out::putInt);
        out.put(payload);
        return java.util.Arrays.copyOf(out.array(), out.position());
    }

    byte[] header() {
        return ByteBuffer.allocate(1 + SESSION_BYTES)
                .put((byte) (opcode << 3))
                .put(session)
                .array();
    }

    /** Reads what stands behind the session id. */
    static ControlPacket read(int opcode, byte[] session, byte[] rest) {
        ByteCursor in = new ByteCursor(rest);
        int count = in.u8();
        if (count > MAX_ACKS) {
            throw new MalformedException("openvpn", "acks", "more acknowledgements than a packet may have");
        }
        List<Integer> acks = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            acks.add(i32(in));
        }
        Optional<byte[]> remote = count > 0 ? Optional.of(in.bytes(SESSION_BYTES)) : Optional.empty();
        Optional<Integer> id = opcode == ACK ? Optional.empty() : Optional.of(i32(in));
        return new ControlPacket(opcode, session, acks, remote, id, in.rest());
    }

    private static int i32(ByteCursor in) {
        return in.u16() << 16 | in.u16();
    }
}
