package tender.core.person;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.wire.MalformedException;

class PeopleListTest {
    private static final String HEADER = "handle,name,mail,team,device,kind,system\n";

    @Test
    void readsQuotedFieldsAndPeopleWithoutDevices() {
        var lines = PeopleList.read(
                HEADER
                        + "mara,\"Quillfeather, \"\"Mara\"\"\",m@skerrivane.example,masters,phone,phone,Android 15\r\n\njoss,Joss,,,,,\n");

        assertThat(lines).hasSize(2);
        assertThat(lines.get(0).name()).isEqualTo("Quillfeather, \"Mara\"");
        assertThat(lines.get(1).device()).isEmpty();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "mara,Mara | line 2",
                "mara,Mara,,,phone,boat, | line 2",
                "Ma ra,Mara,,,,, | line 2",
                "mara,\"Mara,,,,, | line 2",
                "mara,,,,,, | line 2"
            })
    void namesTheLineThatIsWrong(String line, String place) {
        assertThatThrownBy(() -> PeopleList.read(HEADER + line))
                .isInstanceOfSatisfying(
                        MalformedException.class, e -> assertThat(e.place()).startsWith(place));
    }

    @Test
    void wantsItsHeaderAndABound() {
        assertThatThrownBy(() -> PeopleList.read("name,handle\n")).hasMessageContaining("line 1");
        assertThatThrownBy(() -> PeopleList.read(HEADER + "a,b,,,,,\n".repeat(10_001)))
                .hasMessageContaining("10,000");
    }
}
