package tender.core.ike;

import static org.assertj.core.api.Assertions.assertThat;

import java.security.SecureRandom;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Both sides of the first message of IKE version 1 (RFC 2408, RFC 2409). */
class MainModeTest {
    private static final SecureRandom RANDOM = new SecureRandom();

    private final MainModeProbe probe = new MainModeProbe(RANDOM);

    @Test
    void theRequestIsAMainModeProposalOfTheLengthItSays() {
        byte[] request = probe.request();
        String hex = HexFormat.of().formatHex(request);

        assertThat(hex.substring(16, 32)).isEqualTo("0".repeat(16)); // nobody answered yet (RFC 2408 3.1)
        assertThat(hex.substring(32, 40)).isEqualTo("01100200"); // SA, version 1.0, main mode, no flags
        assertThat(Integer.parseInt(hex.substring(48, 56), 16)).isEqualTo(request.length);
        assertThat(probe.request()).isEqualTo(request);
    }

    @Test
    void whatIsTakenIsToldInWords() {
        byte[] answer =
                new MainModeResponder(RANDOM, 14).answer(probe.request()).orElseThrow();

        assertThat(probe.read(answer).orElseThrow().taken()).contains("AES-256, SHA-256, group 14, shared secret");
    }

    @Test
    void aPortForOldCallersTakesTheOldGroup() {
        byte[] answer = new MainModeResponder(RANDOM, 2).answer(probe.request()).orElseThrow();

        assertThat(probe.read(answer).orElseThrow().taken()).contains("AES-256, SHA-1, group 2, shared secret");
    }

    @Test
    void aPortThatTakesNothingSaysSo() {
        byte[] answer =
                new MainModeResponder(RANDOM, 31).answer(probe.request()).orElseThrow();

        assertThat(probe.read(answer).orElseThrow().taken()).isEmpty();
    }

    @Test
    void anAnswerToAnotherProbeIsNone() {
        byte[] answer = new MainModeResponder(RANDOM, 14)
                .answer(new MainModeProbe(RANDOM).request())
                .orElseThrow();

        assertThat(probe.read(answer)).isEmpty();
    }

    @Test
    void everyCutAndEveryChangedByteEndsInAValue() {
        byte[] request = probe.request();
        byte[] answer = new MainModeResponder(RANDOM, 14).answer(request).orElseThrow();
        Random random = new Random(7);

        for (int i = 0; i < answer.length; i++) {
            assertThat(probe.read(Arrays.copyOf(answer, i))).isEqualTo(Optional.empty());
            byte[] changed = answer.clone();
            changed[i] ^= (byte) (1 + random.nextInt(255));
            if (i < 8) {
                assertThat(probe.read(changed))
                        .as("another call's answer, byte " + i)
                        .isEmpty();
            }
            probe.read(changed); // whatever it gives, it ends
        }
        for (int i = 0; i < request.length; i++) {
            byte[] changed = request.clone();
            changed[i] ^= (byte) (1 + random.nextInt(255));
            new MainModeResponder(RANDOM, 14).answer(changed); // whatever it gives, it ends
            Optional<byte[]> cut = new MainModeResponder(RANDOM, 14).answer(Arrays.copyOf(request, i));
            if (i < 28) {
                assertThat(cut).as("a header cut after " + i).isEmpty();
            }
        }
    }
}
