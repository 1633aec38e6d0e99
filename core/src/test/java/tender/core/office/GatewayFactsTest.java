package tender.core.office;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.journal.Entry;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;

class GatewayFactsTest {
    @Test
    void readsTheSettingsItKnowsAndLeavesTheRest() {
        GatewayFacts facts = GatewayFacts.parse(
                "# settings\r\nname = pier2\nrelease = 3.2.1\nnetwork.office = 10.20.4.0/24\nuplink = pier2.skerrivane.example\ncolour = blue\n");

        assertThat(facts.release()).isEqualTo("3.2.1");
        assertThat(facts.networks().get("office")).hasToString("10.20.4.0/24");
        assertThat(facts.uplink().orElseThrow()).hasToString("pier2.skerrivane.example");
        assertThat(facts.insideHost()).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "nothing",
                "network.office = 10.20.4.1/24",
                "uplink = a;reboot",
                "inside-host = 1.2.3",
                "pool = x"
            })
    void namesTheLine(String line) {
        assertThatThrownBy(() -> GatewayFacts.parse("name = x\n" + line))
                .isInstanceOfSatisfying(
                        MalformedException.class, e -> assertThat(e.place()).startsWith("line 2"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "a;reboot",
                "$(id)",
                "a b",
                "Mara",
                "-x",
                "x-",
                "a\nb",
                "ö",
                "",
                "aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa"
            })
    void namesAreForCommandsAndFiles(String name) {
        assertThatThrownBy(() -> Fields.name("name", name)).isInstanceOf(MalformedException.class);
    }

    @Test
    void anEntrysHashDependsOnEveryFieldAndOnTheOneBefore() {
        Entry entry = new Entry(2, java.time.Instant.EPOCH, "a", "b", "c", "d", "e");

        assertThat(entry.hash(Entry.START)).isNotEqualTo(entry.hash("x"));
        assertThat(new Entry(2, java.time.Instant.EPOCH, "ab", "", "c", "d", "e").hash(Entry.START))
                .isNotEqualTo(entry.hash(Entry.START));
    }
}
