package tender.core.trial;

import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.Optional;
import tender.core.network.IpAddress;

/** Asking a server on the outside which address it sees (RFC 8489: Binding, XOR-MAPPED-ADDRESS). */
public final class Stun {
    public static final int PORT = 3478;
    private static final int HEADER = 20;
    private static final int REQUEST = 0x0001;
    private static final int SUCCESS = 0x0101;
    private static final int COOKIE = 0x2112a442;
    private static final int XOR_MAPPED = 0x0020;
    private static final int ID_BYTES = 12;

    private Stun() {}

    /** @param id 12 random bytes that the answer repeats */
    public static byte[] request(byte[] id) {
        return header(REQUEST, 0, id).array();
    }

    private static ByteBuffer header(int type, int length, byte[] id) {
        return ByteBuffer.allocate(HEADER + length)
                .putShort((short) type)
                .putShort((short) length)
                .putInt(COOKIE)
                .put(id);
    }

    /** The id of a request; empty where a datagram is none. */
    public static Optional<byte[]> requested(byte[] datagram) {
        boolean right = datagram.length >= HEADER
                && ByteBuffer.wrap(datagram).getShort() == REQUEST
                && ByteBuffer.wrap(datagram).getInt(4) == COOKIE;
        return right ? Optional.of(Arrays.copyOfRange(datagram, 8, HEADER)) : Optional.empty();
    }

    public static byte[] answer(byte[] id, IpAddress seen, int port) {
        byte[] address = seen.toBytes();
        byte[] mask = mask(id);
        for (int i = 0; i < address.length; i++) {
            address[i] ^= mask[i];
        }
        return header(SUCCESS, 8 + address.length, id)
                .putShort((short) XOR_MAPPED)
                .putShort((short) (4 + address.length))
                .put((byte) 0)
                .put((byte) (seen.isV4() ? 1 : 2))
                .putShort((short) (port ^ COOKIE >>> 16))
                .put(address)
                .array();
    }

    private static byte[] mask(byte[] id) {
        return ByteBuffer.allocate(4 + ID_BYTES).putInt(COOKIE).put(id).array();
    }

    /** The address that the server saw; empty where a datagram is no answer to this request. */
    public static Optional<IpAddress> seen(byte[] datagram, byte[] id) {
        boolean right = datagram.length >= HEADER
                && ByteBuffer.wrap(datagram).getShort() == SUCCESS
                && Arrays.equals(Arrays.copyOfRange(datagram, 8, HEADER), id);
        int at = HEADER;
        while (right && at + 4 <= datagram.length) {
            int type = ByteBuffer.wrap(datagram).getShort(at) & 0xffff;
            int length = ByteBuffer.wrap(datagram).getShort(at + 2) & 0xffff;
            int bytes = length - 4;
            if (type == XOR_MAPPED && (bytes == 4 || bytes == 16) && at + 4 + length <= datagram.length) {
                byte[] address = Arrays.copyOfRange(datagram, at + 8, at + 8 + bytes);
                byte[] mask = mask(id);
                for (int i = 0; i < bytes; i++) {
                    address[i] ^= mask[i];
                }
                return Optional.of(IpAddress.ofBytes(address));
            }
            at += 4 + (length + 3) / 4 * 4;
        }
        return Optional.empty();
    }
}
