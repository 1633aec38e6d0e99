package tender.core.wireguard;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Optional;
import tender.core.wire.ByteCursor;

/** The four WireGuard messages on the wire (WireGuard protocol paper §5.4). */
public final class Packets {
    public static final int INITIATION_BYTES = 148;
    public static final int RESPONSE_BYTES = 92;
    public static final int COOKIE_REPLY_BYTES = 64;
    public static final int TRANSPORT_OVERHEAD_BYTES = 32;
    /** Largest UDP payload; nothing longer can arrive. */
    public static final int MAX_PACKET_BYTES = 65_507;

    static final int MAC_BYTES = 16;
    private static final int INITIATION = 1;
    private static final int RESPONSE = 2;
    private static final int COOKIE_REPLY = 3;
    private static final int TRANSPORT = 4;

    private Packets() {}

    /** A decoded message. */
    public sealed interface Packet {}

    /** §5.4.2, without its two MACs, which cover the raw bytes. */
    public record Initiation(int sender, byte[] ephemeral, byte[] encryptedStatic, byte[] encryptedTimestamp)
            implements Packet {
        byte[] encode() {
            return header(INITIATION, INITIATION_BYTES)
                    .putInt(sender)
                    .put(ephemeral)
                    .put(encryptedStatic)
                    .put(encryptedTimestamp)
                    .array();
        }
    }

    /** §5.4.3, without its two MACs. */
    public record Response(int sender, int receiver, byte[] ephemeral, byte[] encryptedNothing) implements Packet {
        byte[] encode() {
            return header(RESPONSE, RESPONSE_BYTES)
                    .putInt(sender)
                    .putInt(receiver)
                    .put(ephemeral)
                    .put(encryptedNothing)
                    .array();
        }
    }

    /** §5.4.7: the peer is under load and wants a second MAC. */
    public record CookieReply(int receiver, byte[] nonce, byte[] encryptedCookie) implements Packet {
        byte[] encode() {
            return header(COOKIE_REPLY, COOKIE_REPLY_BYTES)
                    .putInt(receiver)
                    .put(nonce)
                    .put(encryptedCookie)
                    .array();
        }
    }

    /** §5.4.6. */
    public record Transport(int receiver, long counter, byte[] encrypted) implements Packet {
        byte[] encode() {
            return header(TRANSPORT, TRANSPORT_OVERHEAD_BYTES / 2 + encrypted.length)
                    .putInt(receiver)
                    .putLong(counter)
                    .put(encrypted)
                    .array();
        }
    }

    private static ByteBuffer header(int type, int length) {
        return ByteBuffer.allocate(length).order(ByteOrder.LITTLE_ENDIAN).putInt(type);
    }

    /** Reads a datagram; empty for anything that is not a WireGuard message of the right length. */
    public static Optional<Packet> decode(byte[] datagram) {
        if (datagram.length < 4 || datagram.length > MAX_PACKET_BYTES) {
            return Optional.empty();
        }
        ByteCursor in = new ByteCursor(datagram);
        int type = in.i32LittleEndian();
        if (type == INITIATION && datagram.length == INITIATION_BYTES) {
            return Optional.of(new Initiation(in.i32LittleEndian(), in.bytes(32), in.bytes(48), in.bytes(28)));
        }
        if (type == RESPONSE && datagram.length == RESPONSE_BYTES) {
            return Optional.of(new Response(in.i32LittleEndian(), in.i32LittleEndian(), in.bytes(32), in.bytes(16)));
        }
        if (type == COOKIE_REPLY && datagram.length == COOKIE_REPLY_BYTES) {
            return Optional.of(new CookieReply(in.i32LittleEndian(), in.bytes(24), in.bytes(32)));
        }
        if (type == TRANSPORT && datagram.length >= TRANSPORT_OVERHEAD_BYTES) {
            return Optional.of(new Transport(in.i32LittleEndian(), in.i64LittleEndian(), in.rest()));
        }
        return Optional.empty();
    }
}
