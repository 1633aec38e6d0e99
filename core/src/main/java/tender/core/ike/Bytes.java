package tender.core.ike;

import java.io.ByteArrayOutputStream;
import java.security.SecureRandom;

/** Byte strings put together. */
final class Bytes {
    private Bytes() {}

    static byte[] join(byte[]... parts) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        for (byte[] part : parts) {
            out.writeBytes(part);
        }
        return out.toByteArray();
    }

    static byte[] random(SecureRandom random, int count) {
        byte[] out = new byte[count];
        random.nextBytes(out);
        return out;
    }
}
