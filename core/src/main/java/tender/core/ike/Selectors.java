package tender.core.ike;

import java.io.ByteArrayOutputStream;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.List;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.wire.ByteCursor;

/** What may pass through the tunnel on one side (RFC 7296 §3.13), as networks; ranges that are none become the next larger. */
final class Selectors {
    private static final int IPV4 = 7;
    private static final int IPV6 = 8;
    private static final int MAX = 256;

    private Selectors() {}

    private record Range(IpAddress first, IpAddress last) {
        /** Whether both together are a range that is no network, as settings write it from one address to another. */
        boolean goesOnWith(Cidr next) {
            return last.family() == next.first().family()
                    && last.compareTo(next.first()) < 0
                    && last.plus(1).equals(next.first())
                    && !isNetwork(first, next.last());
        }
    }

    private static boolean isNetwork(IpAddress first, IpAddress last) {
        return network(first.toBytes(), last.toBytes()).first().equals(first)
                && network(first.toBytes(), last.toBytes()).last().equals(last);
    }

    private static List<Range> ranges(List<Cidr> networks) {
        List<Range> out = new ArrayList<>();
        for (Cidr n : networks) {
            Range before = out.isEmpty() ? null : out.get(out.size() - 1);
            if (before != null && before.goesOnWith(n)) {
                out.set(out.size() - 1, new Range(before.first(), n.last()));
            } else {
                out.add(new Range(n.first(), n.last()));
            }
        }
        return out;
    }

    static byte[] encode(List<Cidr> networks) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        List<Range> ranges = ranges(networks);
        out.writeBytes(new byte[] {(byte) ranges.size(), 0, 0, 0});
        for (Range n : ranges) {
            byte[] first = n.first().toBytes();
            out.writeBytes(ByteBuffer.allocate(8)
                    .put((byte) (n.first().isV4() ? IPV4 : IPV6))
                    .put((byte) 0)
                    .putShort((short) (8 + 2 * first.length))
                    .putShort((short) 0)
                    .putShort((short) 0xffff)
                    .array());
            out.writeBytes(first);
            out.writeBytes(n.last().toBytes());
        }
        return out.toByteArray();
    }

    static List<Cidr> decode(byte[] body) {
        ByteCursor in = new ByteCursor(body);
        int count = in.u8();
        in.skip(3);
        List<Cidr> out = new ArrayList<>();
        for (int i = 0; i < count && i < MAX; i++) {
            int type = in.u8();
            in.skip(1);
            int length = in.u16();
            ByteCursor one = new ByteCursor(in.bytes(length - 4));
            one.skip(4);
            if (type == IPV4 || type == IPV6) {
                int bytes = type == IPV4 ? 4 : 16;
                out.add(network(one.bytes(bytes), one.bytes(bytes)));
            }
        }
        return out;
    }

    private static Cidr network(byte[] first, byte[] last) {
        int differing = new BigInteger(1, first).xor(new BigInteger(1, last)).bitLength();
        int prefix = first.length * 8 - differing;
        byte[] base = new BigInteger(1, first)
                .shiftRight(differing)
                .shiftLeft(differing)
                .toByteArray();
        byte[] whole = new byte[first.length];
        int from = Math.max(0, base.length - whole.length);
        System.arraycopy(base, from, whole, whole.length - (base.length - from), base.length - from);
        return Cidr.of(IpAddress.ofBytes(whole), prefix);
    }
}
