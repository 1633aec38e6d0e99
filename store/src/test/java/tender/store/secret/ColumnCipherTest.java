package tender.store.secret;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;
import tender.store.jdbc.StoreException;

class ColumnCipherTest {
    private static final MasterKey OLD = MasterKey.parse("k1:" + "01".repeat(32));
    private static final MasterKey NEW = MasterKey.parse("k2:" + "02".repeat(32));
    private static final Secret VALUE = Secret.of("RECOGNISABLE");

    @Test
    void aValueOpensInItsPlaceOnly() {
        ColumnCipher cipher = new ColumnCipher(List.of(OLD));
        byte[] stored = cipher.seal(VALUE, "credential.secret/1");

        assertThat(cipher.open(stored, "credential.secret/1")).isEqualTo(VALUE);
        assertThatThrownBy(() -> cipher.open(stored, "credential.secret/2")).isInstanceOf(StoreException.class);
        assertThatThrownBy(() -> cipher.open(stored, "gateway.sign_in_key/1")).isInstanceOf(StoreException.class);
        assertThat(new String(stored, java.nio.charset.StandardCharsets.ISO_8859_1))
                .doesNotContain("RECOGNISABLE");
    }

    @Test
    void everyChangedByteIsNoticedAndNoNonceComesTwice() {
        ColumnCipher cipher = new ColumnCipher(List.of(OLD));
        byte[] stored = cipher.seal(VALUE, "p");
        for (int i = 3; i < stored.length; i++) {
            byte[] changed = stored.clone();
            changed[i] ^= 1;
            assertThatThrownBy(() -> cipher.open(changed, "p")).isInstanceOf(StoreException.class);
        }
        assertThat(cipher.seal(VALUE, "p")).isNotEqualTo(stored);
    }

    @Test
    void aNewerKeySealsWhileTheOlderStillOpens() {
        byte[] before = new ColumnCipher(List.of(OLD)).seal(VALUE, "p");
        ColumnCipher both = new ColumnCipher(List.of(OLD, NEW));

        assertThat(both.open(before, "p")).isEqualTo(VALUE);
        assertThatThrownBy(() -> new ColumnCipher(List.of(OLD)).open(both.seal(VALUE, "p"), "p"))
                .hasMessageContaining("master key that is not at hand");
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "k1", "k1:abc", "K1:00", ":00"})
    void refusesWhatIsNoKey(String text) {
        assertThatThrownBy(() -> MasterKey.parse(text)).isInstanceOf(MalformedException.class);
    }
}
