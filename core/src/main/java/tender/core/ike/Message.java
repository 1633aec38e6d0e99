package tender.core.ike;

import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import tender.core.wire.ByteCursor;
import tender.core.wire.MalformedException;

/**
 * A message of IKE (RFC 7296 §3.1) as it is on the wire, after the marker of port 4500.
 *
 * @param first type of the first payload
 * @param raw the whole of it
 */
record Message(byte[] spiI, byte[] spiR, int first, int exchange, int flags, int id, byte[] raw) {
    static final int HEADER = 28;
    static final int SA_INIT = 34;
    static final int AUTH = 35;
    static final int INFORMATIONAL = 37;
    static final int FROM_INITIATOR = 0x08;
    static final int RESPONSE = 0x20;
    private static final int VERSION_2 = 0x20;
    private static final int MAX = 65_535;

    static Message read(byte[] raw) {
        ByteCursor in = new ByteCursor(raw);
        byte[] spiI = in.bytes(8);
        byte[] spiR = in.bytes(8);
        int first = in.u8();
        int version = in.u8();
        int exchange = in.u8();
        int flags = in.u8();
        int id = ByteBuffer.wrap(in.bytes(4)).getInt();
        int length = ByteBuffer.wrap(in.bytes(4)).getInt();
        if ((version & 0xf0) != VERSION_2 || length != raw.length || raw.length > MAX) {
            throw new MalformedException("message", "", "no message of IKEv2");
        }
        return new Message(spiI, spiR, first, exchange, flags, id, raw);
    }

    static byte[] header(byte[] spiI, byte[] spiR, int first, int exchange, int flags, int id, int length) {
        return ByteBuffer.allocate(HEADER)
                .put(spiI)
                .put(spiR)
                .put((byte) first)
                .put((byte) VERSION_2)
                .put((byte) exchange)
                .put((byte) flags)
                .putInt(id)
                .putInt(length)
                .array();
    }

    /** A message that is not sealed. */
    static byte[] plain(byte[] spiI, byte[] spiR, int exchange, int flags, int id, List<Payload> payloads) {
        byte[] body = Payload.encode(payloads);
        byte[] header = header(spiI, spiR, payloads.get(0).type(), exchange, flags, id, HEADER + body.length);
        return Bytes.join(header, body);
    }

    boolean isResponse() {
        return (flags & RESPONSE) != 0;
    }

    List<Payload> payloads() {
        return Payload.decode(first, Arrays.copyOfRange(raw, HEADER, raw.length));
    }

    static Optional<Payload> one(List<Payload> payloads, int type) {
        return payloads.stream().filter(p -> p.type() == type).findFirst();
    }
}
