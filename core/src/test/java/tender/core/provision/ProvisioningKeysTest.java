package tender.core.provision;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.Base64;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;

class ProvisioningKeysTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final Base64.Decoder URL = Base64.getUrlDecoder();
    /** RFC 8037, appendix A. */
    private static final SigningKey OF_THE_RFC =
            SigningKey.of(Secret.of(URL.decode("nWGxne_9WmC6hEr0kuwsxERJxWl7MmkZcDusAxyuf2A")));

    @Test
    void keysSignaturesAndThumbprintsAreThoseOfTheStandard() {
        VerifyingKey key = OF_THE_RFC.verifying();
        assertThat(key.text()).isEqualTo("11qYAYKxCrfVS_7TyWQHOg7hcvPapiMlrwIaaPcHURo");
        assertThat(key.fingerprint()).isEqualTo("SHA256:kPrK_qmxVWaYVA9wwBF6Iuo3vVzz7TxHCTwXBygrS4k");
        byte[] signed = "eyJhbGciOiJFZERTQSJ9.RXhhbXBsZSBvZiBFZDI1NTE5IHNpZ25pbmc".getBytes(StandardCharsets.US_ASCII);
        assertThat(Base64.getUrlEncoder().withoutPadding().encodeToString(OF_THE_RFC.sign(signed)))
                .isEqualTo("hgyY0il_MGCjP0JzlnLWG1PPOt7-09PGcvMg3AIbQR6dWbhijcNR4ki4iylGjg5BhVsPt9g7sVvpAr_MuM0KAg");
    }

    @Test
    void aFingerprintIsComparedAsPeopleAreTold() {
        VerifyingKey key = OF_THE_RFC.verifying();
        assertThat(key.isToldAs(" kPrK_qmxVWaYVA9wwBF6Iuo3vVzz7TxHCTwXBygrS4k\n"))
                .isTrue();
        assertThat(key.isToldAs(key.fingerprint())).isTrue();
        assertThat(key.isToldAs("SHA256:kPrK_qmxVWaYVA9wwBF6Iuo3vVzz7TxHCTwXBygrS4K"))
                .isFalse();
        assertThat(key.isToldAs("SHA256:")).isFalse();
        assertThat(key.isToldAs("")).isFalse();
    }

    @RepeatedTest(20)
    void whatIsAlteredOrSignedByAnotherKeyIsNotBelieved() {
        SigningKey key = SigningKey.generate(RANDOM);
        byte[] message = new byte[RANDOM.nextInt(2_000)];
        RANDOM.nextBytes(message);
        byte[] signature = key.sign(message);
        assertThat(key.verifying().verifies(message, signature)).isTrue();
        assertThat(SigningKey.generate(RANDOM).verifying().verifies(message, signature))
                .isFalse();
        signature[RANDOM.nextInt(signature.length)] ^= (byte) (1 << RANDOM.nextInt(8));
        assertThat(key.verifying().verifies(message, signature)).isFalse();
        assertThat(key.verifying().verifies(message, new byte[RANDOM.nextInt(64)]))
                .isFalse();
    }

    @Test
    void whatIsNoKeyIsRefused() {
        for (byte[] bytes : new byte[][] {new byte[0], new byte[31], new byte[33], new byte[32]}) {
            assertThatThrownBy(() -> VerifyingKey.ofBytes(bytes)).isInstanceOf(MalformedException.class);
        }
        assertThatThrownBy(() -> VerifyingKey.ofText("no base64!")).isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> SealingKey.seal(new byte[31], "x", new byte[1]))
                .isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> SealingKey.seal(new byte[32], "x", new byte[1]))
                .as("of small order")
                .isInstanceOf(MalformedException.class);
    }

    @RepeatedTest(20)
    void whatIsSealedOpensWithItsKeyAtItsPlaceAlone() {
        SealingKey key = SealingKey.generate(RANDOM);
        byte[] content = new byte[RANDOM.nextInt(20_000)];
        RANDOM.nextBytes(content);
        byte[] sealed = SealingKey.seal(key.publicBytes(), "device/profile/1", content);
        assertThat(SealingKey.of(key.secret()).open("device/profile/1", sealed)).hasValue(content);
        assertThat(SealingKey.seal(key.publicBytes(), "device/profile/1", content))
                .as("never the same twice")
                .isNotEqualTo(sealed);
        assertThat(key.open("device/profile/2", sealed)).isEmpty();
        assertThat(SealingKey.generate(RANDOM).open("device/profile/1", sealed)).isEmpty();
        assertThat(key.open("device/profile/1", new byte[RANDOM.nextInt(48)])).isEmpty();
        sealed[RANDOM.nextInt(sealed.length)] ^= (byte) (1 << RANDOM.nextInt(7));
        assertThat(key.open("device/profile/1", sealed)).isEmpty();
    }
}
