package tender.core.ike;

import static org.assertj.core.api.Assertions.assertThat;

import java.security.SecureRandom;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Sealed payloads open whole or not at all (RFC 7296 §3.14, RFC 5282). */
class SealerTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final int HMAC_SHA256_128 = 12;

    private static byte[] bytes(int count) {
        byte[] out = new byte[count];
        RANDOM.nextBytes(out);
        return out;
    }

    private static void opensWholeOnly(Sealer sealer) {
        byte[] header = bytes(32);
        byte[] sealed = sealer.seal(header, bytes(64));
        assertThat(sealer.open(header, sealed)).isPresent();
        for (int at = 0; at < sealed.length; at++) {
            byte[] changed = sealed.clone();
            changed[at] ^= 1;
            assertThat(sealer.open(header, changed)).as("byte " + at).isEmpty();
        }
        byte[] other = header.clone();
        other[3] ^= 1;
        assertThat(sealer.open(other, sealed)).as("under another header").isEmpty();
        assertThat(sealer.open(header, new byte[5])).isEmpty();
    }

    @Test
    void withASeparateTag() {
        opensWholeOnly(new Sealer(
                new Transform(Transform.CIPHER, Transform.AES_CBC, 256),
                Optional.of(new Transform(Transform.INTEGRITY, HMAC_SHA256_128, 0)),
                bytes(32),
                bytes(32),
                RANDOM));
    }

    @Test
    void withATagOfTheCipherItself() {
        opensWholeOnly(new Sealer(
                new Transform(Transform.CIPHER, Transform.AES_GCM, 256),
                Optional.empty(),
                bytes(36),
                new byte[0],
                RANDOM));
    }
}
