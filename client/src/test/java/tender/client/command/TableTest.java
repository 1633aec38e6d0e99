package tender.client.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;

class TableTest {
    private static final List<String> HEADS = List.of("GATEWAY", "STATE", "LISTENERS");

    private static List<String> lines(int width, String... cells) {
        return Table.lines(HEADS, List.of(List.of(cells)), width, UnaryOperator.identity());
    }

    @Test
    void columnsAreAsWideAsTheirContents() {
        assertThat(lines(100, "pier2", "ok", "wireguard udp 51820"))
                .containsExactly("GATEWAY  STATE  LISTENERS", "pier2    ok     wireguard udp 51820");
    }

    @Test
    void whatIsTooWideIsCutTheWidestFirstAndTheNameNever() {
        String name = "a-very-long-name-of-a-gateway-that-stays";
        List<String> cut = lines(70, name, "x".repeat(20), "y".repeat(60));

        assertThat(cut).allMatch(l -> l.length() <= 70);
        assertThat(cut.get(1)).startsWith(name + "  xxx").contains("…");
        assertThat(lines(20, name, "ok", "y".repeat(60)).get(1))
                .startsWith(name)
                .hasSizeGreaterThan(20);
    }
}
