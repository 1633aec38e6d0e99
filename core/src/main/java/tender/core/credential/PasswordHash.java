package tender.core.credential;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Base64;
import org.bouncycastle.crypto.generators.Argon2BytesGenerator;
import org.bouncycastle.crypto.params.Argon2Parameters;
import tender.core.wire.MalformedException;

/** Argon2id (RFC 9106) in the usual text form {@code $argon2id$v=19$m=…,t=…,p=…$salt$hash}. */
public final class PasswordHash {
    /** 19 MiB, two passes, one lane: RFC 9106 §4's shape at a cost that a small server bears. */
    public static final int MEMORY_KIB = 19 * 1024;

    public static final int PASSES = 2;
    private static final int LANES = 1;
    private static final int SALT_BYTES = 16;
    private static final int HASH_BYTES = 32;
    private static final int MAX_MEMORY_KIB = 256 * 1024;
    private static final int MAX_PASSES = 16;

    private PasswordHash() {}

    /**
     * Argon2id (RFC 9106) with a salt of its own. Takes tens of milliseconds and megabytes: callers bound how many run at once.
     *
     * @param memoryKib what it takes, in KiB; {@link #MEMORY_KIB} is the usual
     */
    public static String make(Secret password, int memoryKib, SecureRandom random) {
        byte[] salt = some(SALT_BYTES, random);
        return text(memoryKib, salt, derive(password, salt, memoryKib, PASSES, HASH_BYTES));
    }

    /** What no password matches: comparing with it costs the same, making it costs nothing. */
    public static String ofNobody(int memoryKib, SecureRandom random) {
        return text(memoryKib, some(SALT_BYTES, random), some(HASH_BYTES, random));
    }

    private static byte[] some(int length, SecureRandom random) {
        byte[] bytes = new byte[length];
        random.nextBytes(bytes);
        return bytes;
    }

    private static String text(int memoryKib, byte[] salt, byte[] hash) {
        Base64.Encoder base64 = Base64.getEncoder().withoutPadding();
        return "$argon2id$v=19$m=" + memoryKib + ",t=" + PASSES + ",p=" + LANES + "$" + base64.encodeToString(salt)
                + "$" + base64.encodeToString(hash);
    }

    /**
     * Compared in constant time; costs what the stored hash says, within bounds.
     *
     * @throws MalformedException where what is stored is no such hash
     */
    public static boolean matches(Secret password, String stored) {
        var m = java.util.regex.Pattern.compile(
                        "\\$argon2id\\$v=19\\$m=(\\d{1,7}),t=(\\d{1,3}),p=1\\$([A-Za-z0-9+/]+)\\$([A-Za-z0-9+/]+)")
                .matcher(stored);
        if (!m.matches()) {
            throw new MalformedException("password-hash", "", "not an argon2id hash of one lane");
        }
        int memory = Integer.parseInt(m.group(1));
        int passes = Integer.parseInt(m.group(2));
        if (memory > MAX_MEMORY_KIB || passes > MAX_PASSES) {
            throw new MalformedException("password-hash", "", "cost beyond what is allowed");
        }
        byte[] expected = Base64.getDecoder().decode(m.group(4));
        byte[] actual = derive(password, Base64.getDecoder().decode(m.group(3)), memory, passes, expected.length);
        return MessageDigest.isEqual(expected, actual);
    }

    /** Stretches a password into key bytes. */
    public static byte[] derive(Secret password, byte[] salt, int memoryKib, int passes, int length) {
        Argon2BytesGenerator generator = new Argon2BytesGenerator();
        generator.init(new Argon2Parameters.Builder(Argon2Parameters.ARGON2_id)
                .withVersion(Argon2Parameters.ARGON2_VERSION_13)
                .withMemoryAsKB(memoryKib)
                .withIterations(passes)
                .withParallelism(LANES)
                .withSalt(salt)
                .build());
        byte[] out = new byte[length];
        generator.generateBytes(
                new String(password.reveal(RevealSecret.TO_SIGN_IN), StandardCharsets.UTF_8).toCharArray(), out);
        return out;
    }
}
