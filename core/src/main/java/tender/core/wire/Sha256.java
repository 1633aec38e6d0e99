package tender.core.wire;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/** SHA-256 (FIPS 180-4), which every Java has. */
public final class Sha256 {
    private Sha256() {}

    /** 32 bytes. */
    public static byte[] of(byte[] content) {
        return engine().digest(content);
    }

    /** 64 small hexadecimal digits. */
    public static String hex(byte[] content) {
        return HexFormat.of().formatHex(of(content));
    }

    /** The same over the text's UTF-8 bytes. */
    public static String hex(String text) {
        return hex(text.getBytes(StandardCharsets.UTF_8));
    }

    /** For content that comes in pieces. */
    public static MessageDigest engine() {
        try {
            return MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }
}
