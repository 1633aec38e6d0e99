package tender.core.wireguard;

import java.nio.ByteBuffer;
import java.time.Instant;
import java.util.Arrays;

/** TAI64N time stamps: 8 bytes of seconds, 4 of nanoseconds, most significant first, so that bytes compare as times. */
final class Tai64n {
    static final int BYTES = 12;
    /** 2^62 plus the ten seconds by which TAI was ahead in 1970. */
    private static final long EPOCH = 0x400000000000000aL;

    private Tai64n() {}

    static byte[] of(Instant now) {
        return ByteBuffer.allocate(BYTES)
                .putLong(EPOCH + now.getEpochSecond())
                .putInt(now.getNano())
                .array();
    }

    static boolean isAfter(byte[] stamp, byte[] other) {
        return Arrays.compareUnsigned(stamp, other) > 0;
    }
}
