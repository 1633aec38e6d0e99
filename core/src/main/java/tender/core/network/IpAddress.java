package tender.core.network;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import tender.core.wire.MalformedException;

/**
 * An IPv4 or IPv6 address as a 128-bit unsigned number (IPv4 in the low 32 bits of {@code low}).
 *
 * <p>Text is read strictly: four decimal parts without leading zeros (RFC 6943 §3.1.1 "strict form"), or RFC 4291 §2.2;
 * no zone, no brackets. Text is written as RFC 5952 recommends.
 */
public record IpAddress(Family family, long high, long low) implements Comparable<IpAddress> {
    /** Address family with its width in bits. */
    public enum Family {
        V4(32),
        V6(128);

        private final int bits;

        Family(int bits) {
            this.bits = bits;
        }

        /** 32 or 128. */
        public int bits() {
            return bits;
        }
    }

    private static final int V6_GROUPS = 8;
    /** RFC 4291 §2.2: the longest form, with an embedded IPv4 address. */
    private static final int MAX_TEXT = 45;

    public IpAddress {
        if (family == Family.V4 && (high != 0 || low >>> 32 != 0)) {
            throw new MalformedException("address", "", "not a 32-bit address");
        }
    }

    /**
     * An address as text, without prefix or zone.
     *
     * @throws MalformedException where it is none
     */
    public static IpAddress parse(String text) {
        if (text.length() > MAX_TEXT) {
            throw malformed();
        }
        return text.indexOf(':') >= 0 ? parseV6(text) : new IpAddress(Family.V4, 0, parseV4(text));
    }

    /** From 4 or 16 bytes, most significant first. */
    public static IpAddress ofBytes(byte[] bytes) {
        if (bytes.length == 4) {
            return new IpAddress(Family.V4, 0, number(bytes, 0, 4));
        }
        if (bytes.length == 16) {
            return new IpAddress(Family.V6, number(bytes, 0, 8), number(bytes, 8, 8));
        }
        throw new MalformedException("address", "", "an address has 4 or 16 bytes");
    }

    /** 4 or 16 bytes, most significant first. */
    public byte[] toBytes() {
        byte[] out = new byte[family.bits() / 8];
        for (int i = 0; i < out.length; i++) {
            int fromEnd = out.length - 1 - i;
            out[i] = (byte) (fromEnd < 8 ? low >>> 8 * fromEnd : high >>> 8 * (fromEnd - 8));
        }
        return out;
    }

    /** The IPv4 address that an IPv6 one stands for (mapped, RFC 4291 §2.5.5.2, or translated, RFC 6052 §2.1); else itself. */
    public IpAddress unmapped() {
        boolean mapped = family == Family.V6 && high == 0 && low >>> 32 == 0xffffL;
        boolean translated = family == Family.V6 && high == 0x0064_ff9b_0000_0000L && low >>> 32 == 0;
        return mapped || translated ? new IpAddress(Family.V4, 0, low & 0xffff_ffffL) : this;
    }

    public boolean isV4() {
        return family == Family.V4;
    }

    /** The address {@code count} further on (wraps around within the family). */
    public IpAddress plus(long count) {
        long sum = low + count;
        if (isV4()) {
            return new IpAddress(family, 0, sum & 0xffffffffL);
        }
        long carry = count >= 0
                ? (Long.compareUnsigned(sum, low) < 0 ? 1 : 0)
                : (Long.compareUnsigned(sum, low) > 0 ? -1 : 0);
        return new IpAddress(family, high + carry, sum);
    }

    @Override
    public int compareTo(IpAddress other) {
        int byFamily = family.compareTo(other.family);
        if (byFamily != 0) {
            return byFamily;
        }
        int byHigh = Long.compareUnsigned(high, other.high);
        return byHigh != 0 ? byHigh : Long.compareUnsigned(low, other.low);
    }

    @Override
    public String toString() {
        return isV4() ? v4Text() : v6Text();
    }

    private String v4Text() {
        return (low >>> 24) + "." + (low >>> 16 & 255) + "." + (low >>> 8 & 255) + "." + (low & 255);
    }

    private String v6Text() {
        int[] groups = new int[V6_GROUPS];
        for (int i = 0; i < V6_GROUPS; i++) {
            groups[i] = (int) ((i < 4 ? high >>> 16 * (3 - i) : low >>> 16 * (7 - i)) & 0xffff);
        }
        int bestStart = -1;
        int bestLength = 1;
        for (int i = 0; i < V6_GROUPS; i++) {
            int length = 0;
            while (i + length < V6_GROUPS && groups[i + length] == 0) {
                length++;
            }
            if (length > bestLength) {
                bestStart = i;
                bestLength = length;
            }
        }
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < V6_GROUPS; i++) {
            if (i == bestStart) {
                text.append("::");
                i += bestLength - 1;
            } else {
                if (text.length() > 0 && text.charAt(text.length() - 1) != ':') {
                    text.append(':');
                }
                text.append(Integer.toHexString(groups[i]));
            }
        }
        return text.toString();
    }

    private static long parseV4(String text) {
        String[] parts = text.split("\\.", -1);
        if (parts.length != 4) {
            throw malformed();
        }
        long value = 0;
        for (String part : parts) {
            if (part.isEmpty() || part.length() > 3 || part.length() > 1 && part.charAt(0) == '0') {
                throw malformed();
            }
            int octet = 0;
            for (char c : part.toCharArray()) {
                if (c < '0' || c > '9') {
                    throw malformed();
                }
                octet = octet * 10 + c - '0';
            }
            if (octet > 255) {
                throw malformed();
            }
            value = value << 8 | octet;
        }
        return value;
    }

    private static IpAddress parseV6(String text) {
        int gap = text.indexOf("::");
        if (gap >= 0 && text.indexOf("::", gap + 1) >= 0) {
            throw malformed();
        }
        List<Integer> head = groups(gap < 0 ? text : text.substring(0, gap), gap < 0);
        List<Integer> tail = gap < 0 ? List.of() : groups(text.substring(gap + 2), true);
        int written = head.size() + tail.size();
        if (gap < 0 ? written != V6_GROUPS : written > V6_GROUPS - 1) {
            throw malformed();
        }
        int[] all = new int[V6_GROUPS];
        for (int i = 0; i < head.size(); i++) {
            all[i] = head.get(i);
        }
        for (int i = 0; i < tail.size(); i++) {
            all[V6_GROUPS - tail.size() + i] = tail.get(i);
        }
        long high = 0;
        long low = 0;
        for (int i = 0; i < 4; i++) {
            high = high << 16 | all[i];
            low = low << 16 | all[i + 4];
        }
        return new IpAddress(Family.V6, high, low);
    }

    private static List<Integer> groups(String text, boolean last) {
        List<Integer> out = new ArrayList<>();
        if (text.isEmpty()) {
            return out;
        }
        String[] parts = text.split(":", -1);
        for (int i = 0; i < parts.length; i++) {
            if (last && i == parts.length - 1 && parts[i].indexOf('.') >= 0) {
                long v4 = parseV4(parts[i]);
                out.add((int) (v4 >>> 16));
                out.add((int) (v4 & 0xffff));
            } else {
                out.add(group(parts[i].toLowerCase(Locale.ROOT)));
            }
        }
        return out;
    }

    private static int group(String part) {
        if (part.isEmpty() || part.length() > 4) {
            throw malformed();
        }
        int value = 0;
        for (char c : part.toCharArray()) {
            int digit = c >= '0' && c <= '9' ? c - '0' : c >= 'a' && c <= 'f' ? c - 'a' + 10 : -1;
            if (digit < 0) {
                throw malformed();
            }
            value = value << 4 | digit;
        }
        return value;
    }

    private static long number(byte[] bytes, int from, int count) {
        long value = 0;
        for (int i = from; i < from + count; i++) {
            value = value << 8 | bytes[i] & 0xff;
        }
        return value;
    }

    private static MalformedException malformed() {
        return new MalformedException("address", "", "not an IPv4 or IPv6 address in its full, plain form");
    }
}
