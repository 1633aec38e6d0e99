package tender.core.proposal;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class NamedOwnerTest {
    private static final Set<String> GATEWAY = Set.of("orrin", "skerrivane", "example");

    @ParameterizedTest
    @CsvSource({
        "ana.torres, ana-torres, Ana Torres, ",
        "Ana Torres, ana-torres, Ana Torres, ",
        "ana-torres-laptop, ana-torres, Ana Torres, laptop",
        "ana_torres (phone 2), ana-torres, Ana Torres, phone",
        "orrin-ana-tablet, ana, Ana, tablet",
        "ana@skerrivane.example, ana, Ana, ",
        "vpn_client_ana, ana, Ana, ",
        "J\u00f8rgen M\u00fcller, jorgen-muller, Jorgen Muller, ",
        "ana-pc3, ana, Ana, pc3"
    })
    void tellsPersonAndDevice(String name, String handle, String person, String device) {
        NamedOwner owner = NamedOwner.of(name, GATEWAY).orElseThrow();

        assertThat(owner.handle()).isEqualTo(handle);
        assertThat(owner.name()).isEqualTo(person);
        assertThat(owner.device().map(NamedOwner.DeviceWord::name).orElse(null)).isEqualTo(device);
    }

    @ParameterizedTest
    @ValueSource(strings = {"client1", "office", "vpn-udp-1194", "orrin", "wg0", "12345", "", "server", "..."})
    void tellsNobodyWhereNobodyIsNamed(String name) {
        assertThat(NamedOwner.of(name, GATEWAY)).isEmpty();
    }

    @Test
    void aNameThatIsTooLongNamesNobody() {
        assertThat(NamedOwner.of("a".repeat(41), GATEWAY)).isEmpty();
    }
}
