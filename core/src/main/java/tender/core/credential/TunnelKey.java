package tender.core.credential;

import java.util.Arrays;
import java.util.Base64;
import tender.core.wire.MalformedException;

/** The public half of a WireGuard key pair: 32 bytes, written as 44 characters of base64. */
public final class TunnelKey {
    public static final int BYTES = 32;

    private final byte[] bytes;

    private TunnelKey(byte[] bytes) {
        this.bytes = bytes;
    }

    /**
     * @param bytes 32, which are copied
     * @throws MalformedException where there are not 32
     */
    public static TunnelKey of(byte[] bytes) {
        if (bytes.length != BYTES) {
            throw new MalformedException("key", "", "a tunnel key has 32 bytes");
        }
        return new TunnelKey(bytes.clone());
    }

    /**
     * Strict base64, as {@link #decode}.
     *
     * @throws MalformedException where it is not
     */
    public static TunnelKey parse(String text) {
        return new TunnelKey(decode(text));
    }

    /** Strict base64 of 32 bytes: 44 characters with one '=', no stray bits. */
    public static byte[] decode(String text) {
        if (text.length() != 44) {
            throw malformed();
        }
        try {
            byte[] bytes = Base64.getDecoder().decode(text);
            if (bytes.length != BYTES
                    || !Base64.getEncoder().encodeToString(bytes).equals(text)) {
                throw malformed();
            }
            return bytes;
        } catch (IllegalArgumentException e) {
            throw malformed();
        }
    }

    private static MalformedException malformed() {
        return new MalformedException("key", "", "a key is 32 bytes written as 44 characters of base64");
    }

    public byte[] toBytes() {
        return bytes.clone();
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof TunnelKey key && Arrays.equals(bytes, key.bytes);
    }

    @Override
    public int hashCode() {
        return Arrays.hashCode(bytes);
    }

    @Override
    public String toString() {
        return Base64.getEncoder().encodeToString(bytes);
    }
}
