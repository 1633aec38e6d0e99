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
        byte[] stored = cipher.seal(VALUE, EncryptedColumn.CREDENTIAL, 1);

        assertThat(cipher.open(stored, EncryptedColumn.CREDENTIAL, 1)).isEqualTo(VALUE);
        assertThatThrownBy(() -> cipher.open(stored, EncryptedColumn.CREDENTIAL, 2))
                .isInstanceOf(StoreException.class);
        assertThatThrownBy(() -> cipher.open(stored, EncryptedColumn.GATEWAY_SIGN_IN, 1))
                .isInstanceOf(StoreException.class);
        assertThat(new String(stored, java.nio.charset.StandardCharsets.ISO_8859_1))
                .doesNotContain("RECOGNISABLE");
    }

    @Test
    void everyChangedByteIsNoticedAndNoNonceComesTwice() {
        ColumnCipher cipher = new ColumnCipher(List.of(OLD));
        byte[] stored = cipher.seal(VALUE, EncryptedColumn.BACKUP, 1);
        for (int i = 3; i < stored.length; i++) {
            byte[] changed = stored.clone();
            changed[i] ^= 1;
            assertThatThrownBy(() -> cipher.open(changed, EncryptedColumn.BACKUP, 1))
                    .isInstanceOf(StoreException.class);
        }
        assertThat(cipher.seal(VALUE, EncryptedColumn.BACKUP, 1)).isNotEqualTo(stored);
    }

    @Test
    void aNewerKeySealsWhileTheOlderStillOpens() {
        byte[] before = new ColumnCipher(List.of(OLD)).seal(VALUE, EncryptedColumn.BACKUP, 1);
        ColumnCipher both = new ColumnCipher(List.of(OLD, NEW));

        assertThat(both.open(before, EncryptedColumn.BACKUP, 1)).isEqualTo(VALUE);
        assertThatThrownBy(() -> new ColumnCipher(List.of(OLD))
                        .open(both.seal(VALUE, EncryptedColumn.BACKUP, 1), EncryptedColumn.BACKUP, 1))
                .hasMessageContaining("master key that is not at hand");
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "k1", "k1:abc", "K1:00", ":00"})
    void refusesWhatIsNoKey(String text) {
        assertThatThrownBy(() -> MasterKey.parse(text)).isInstanceOf(MalformedException.class);
    }
}
