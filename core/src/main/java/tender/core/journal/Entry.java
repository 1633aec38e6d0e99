package tender.core.journal;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.HexFormat;

/**
 * Who did what to what, when. Persons and things stand by reference (kind and id), so that a person's data can be erased
 * without breaking the chain. {@code at} has microseconds at most, as the database keeps them.
 */
public record Entry(
        long number, Instant at, String actor, String action, String subjectKind, String subjectId, String detail) {
    /** What the first entry follows. */
    public static final String START = "0".repeat(64);

    /** SHA-256 over the previous hash and every field, each with its length before it. */
    public String hash(String previous) {
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            String[] fields = {
                previous, Long.toString(number), at.toString(), actor, action, subjectKind, subjectId, detail
            };
            for (String field : fields) {
                byte[] bytes = field.getBytes(StandardCharsets.UTF_8);
                digest.update(ByteBuffer.allocate(4).putInt(bytes.length).array());
                digest.update(bytes);
            }
            return HexFormat.of().formatHex(digest.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }
}
