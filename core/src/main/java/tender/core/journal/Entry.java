package tender.core.journal;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import tender.core.credential.KeyedDigest;
import tender.core.credential.Secret;
import tender.core.wire.Sha256;

/**
 * Who did what to what, when. Persons and things stand by reference (kind and id), so that a person's data can be erased
 * without breaking the chain. {@code at} has microseconds at most, as the database keeps them.
 */
public record Entry(
        long number, Instant at, String actor, String action, String subjectKind, String subjectId, String detail) {
    /** What the first entry follows. */
    public static final String START = "0".repeat(64);

    /** SHA-256 over the previous hash and every field: of entries from before the journal had a key. */
    public String hash(String previous) {
        return Sha256.hex(bytes(previous));
    }

    /** HMAC-SHA-256 over the same: whoever has the database alone can neither write an entry anew nor leave one out. */
    public String hash(String previous, Secret key) {
        return KeyedDigest.of(key, bytes(previous));
    }

    /** The previous hash and every field, each with its length before it. */
    private byte[] bytes(String previous) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        String[] fields = {previous, Long.toString(number), at.toString(), actor, action, subjectKind, subjectId, detail
        };
        for (String field : fields) {
            byte[] bytes = field.getBytes(StandardCharsets.UTF_8);
            out.writeBytes(ByteBuffer.allocate(4).putInt(bytes.length).array());
            out.writeBytes(bytes);
        }
        return out.toByteArray();
    }
}
