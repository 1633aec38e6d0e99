package tender.core.handout;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.security.SecureRandom;
import org.junit.jupiter.api.Test;
import tender.core.credential.Passphrase;
import tender.core.credential.PasswordHash;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;

class ParcelTest {
    private static final SecureRandom RANDOM = new SecureRandom();

    @Test
    void opensWithTokenAndPassphraseTogetherAndForgivesSpacesAndCapitals() {
        Secret token = LinkToken.generate(RANDOM);
        Secret passphrase = Passphrase.generate(RANDOM);
        Parcel parcel = Parcel.seal("file".getBytes(), token, passphrase, RANDOM);
        String typed = passphrase.revealText(RevealSecret.TO_HAND_OUT);

        assertThat(parcel.open(token, typed)).contains("file".getBytes());
        assertThat(parcel.open(token, "  " + typed.toUpperCase().replace('-', ' ') + " "))
                .isPresent();
        assertThat(parcel.open(token, typed.substring(1))).isEmpty();
        assertThat(parcel.open(LinkToken.generate(RANDOM), typed)).isEmpty();
    }

    @Test
    void passphrasesHaveFourGroupsWithoutLookAlikes() {
        assertThat(Passphrase.generate(RANDOM).revealText(RevealSecret.TO_HAND_OUT))
                .matches("([a-hj-km-np-z2-9]{4}-){3}[a-hj-km-np-z2-9]{4}");
    }

    @Test
    void aPasswordIsCheckedAgainstItsHashAndNothingElse() {
        String hash = PasswordHash.make(Secret.of("correct horse"), PasswordHash.MEMORY_KIB, RANDOM);

        assertThat(PasswordHash.matches(Secret.of("correct horse"), hash)).isTrue();
        assertThat(PasswordHash.matches(Secret.of("correct horsf"), hash)).isFalse();
        assertThatThrownBy(() -> PasswordHash.matches(Secret.of("x"), hash.replace("m=19456", "m=9999999")))
                .isInstanceOf(MalformedException.class);
    }

    @Test
    void secretsDoNotPrint() {
        assertThat(Secret.of("visible").toString()).doesNotContain("visible");
        assertThat(Secret.of("a")).isEqualTo(Secret.of("a")).isNotEqualTo(Secret.of("b"));
        Secret secret = Secret.of("wiped");
        secret.wipe();
        assertThat(secret.reveal(RevealSecret.TO_COMPARE)).containsOnly(0);
    }
}
