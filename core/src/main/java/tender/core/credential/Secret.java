package tender.core.credential;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.Arrays;
import java.util.Objects;

/** Bytes that must not be shown: no text form, compared in constant time, read only with a stated reason. */
public final class Secret {
    private final byte[] bytes;

    private Secret(byte[] bytes) {
        this.bytes = bytes;
    }

    public static Secret of(byte[] bytes) {
        return new Secret(bytes.clone());
    }

    public static Secret of(String text) {
        return new Secret(text.getBytes(StandardCharsets.UTF_8));
    }

    /** A copy; whoever asks says why. */
    public byte[] reveal(RevealSecret why) {
        Objects.requireNonNull(why);
        return bytes.clone();
    }

    public String revealText(RevealSecret why) {
        Objects.requireNonNull(why);
        return new String(bytes, StandardCharsets.UTF_8);
    }

    /** Bytes. */
    public int length() {
        return bytes.length;
    }

    /** Overwrites the bytes; the secret is empty of meaning afterwards. */
    public void wipe() {
        Arrays.fill(bytes, (byte) 0);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Secret secret && MessageDigest.isEqual(bytes, secret.bytes);
    }

    @Override
    public int hashCode() {
        return bytes.length;
    }

    @Override
    public String toString() {
        return "(secret)";
    }
}
