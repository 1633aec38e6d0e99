package tender.core.ike;

import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.Optional;
import tender.core.wire.ReplayWindow;

/** IP packets in ESP (RFC 4303), tunnel mode, to be carried in UDP (RFC 3948). */
final class EspTunnel {
    private static final int HEADER = 8;
    private static final int IPV4 = 4;
    private static final int IPV6 = 41;

    private final byte[] spiOut;
    private final byte[] spiIn;
    private final Sealer out;
    private final Sealer in;
    private final ReplayWindow seen = new ReplayWindow();
    private int next = 1;

    EspTunnel(byte[] spiOut, byte[] spiIn, Sealer out, Sealer in) {
        this.spiOut = spiOut;
        this.spiIn = spiIn;
        this.out = out;
        this.in = in;
    }

    byte[] seal(byte[] packet) {
        int block = out.block();
        int pad = (block - (packet.length + 2) % block) % block;
        byte[] text = Arrays.copyOf(packet, packet.length + pad + 2);
        for (int i = 0; i < pad; i++) {
            text[packet.length + i] = (byte) (i + 1);
        }
        text[text.length - 2] = (byte) pad;
        text[text.length - 1] = (byte) ((packet[0] & 0xf0) == 0x60 ? IPV6 : IPV4);
        byte[] header = ByteBuffer.allocate(HEADER).put(spiOut).putInt(next++).array();
        return Bytes.join(header, out.seal(header, text));
    }

    /** Empty where it is another tunnel's, does not open, was here before, or holds no IP packet. */
    Optional<byte[]> open(byte[] packet) {
        if (packet.length < HEADER || !Arrays.equals(Arrays.copyOf(packet, 4), spiIn)) {
            return Optional.empty();
        }
        byte[] header = Arrays.copyOf(packet, HEADER);
        Optional<byte[]> text = in.open(header, Arrays.copyOfRange(packet, HEADER, packet.length));
        if (text.isEmpty() || text.get().length < 2) {
            return Optional.empty();
        }
        byte[] t = text.get();
        int pad = t[t.length - 2] & 0xff;
        int kind = t[t.length - 1] & 0xff;
        boolean fits = pad + 2 < t.length && (kind == IPV4 || kind == IPV6);
        long number = ByteBuffer.wrap(header, 4, 4).getInt() & 0xffffffffL;
        return fits && seen.accept(number) ? Optional.of(Arrays.copyOf(t, t.length - pad - 2)) : Optional.empty();
    }
}
