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
        assertThatThrownBy(() -> PeopleList.read("handle,mail\n")).hasMessageContaining("line 1");
        assertThatThrownBy(() -> PeopleList.read("handle,name,colour\n")).hasMessageContaining("line 1");
        assertThatThrownBy(() -> PeopleList.read("handle,name,name\n")).hasMessageContaining("line 1");
        assertThatThrownBy(() -> PeopleList.read(HEADER + "a,b,,,,,\n".repeat(10_001)))
                .hasMessageContaining("10,000");
    }

    @Test
    void namesAloneAreEnoughAsTheyAreTypedOrCopied() {
        assertThat(PeopleList.read("Ana Torres\tAna.Torres@skerrivane.example\tTicket Desk\nSøren Łęcki\t\t\n"))
                .extracting(PeopleList.Line::handle, PeopleList.Line::team, PeopleList.Line::said)
                .hasToString("[(\"ana.torres\", \"ticket-desk\", false), (\"soren.lecki\", \"\", false)]");
        assertThat(PeopleList.read("Full name;E-Mail;Department\nBo Lind;;Crew\n")
                        .get(0))
                .satisfies(l -> {
                    assertThat(l.handle()).isEqualTo("bo.lind");
                    assertThat(l.team()).isEqualTo("crew");
                    assertThat(l.number()).isEqualTo(2);
                });
        assertThatThrownBy(() -> PeopleList.read("Ana Torres,Crew,555\n")).hasMessageContaining("without a header");
        assertThatThrownBy(() -> PeopleList.read("name,phone\nAna,555\n")).hasMessageContaining("no column phone");
    }

    @Test
    void twoPeopleAreNotOneBecauseTheirHandlesWouldBeMadeAlike() {
        assertThatThrownBy(() -> PeopleList.read("Ana Torres\tana@one.example\nAna Ruiz\tana@two.example\n"))
                .hasMessageContaining("line 2")
                .hasMessageContaining("would both be ana");
        assertThat(PeopleList.read("name,device\nAna Torres,laptop\nAna Torres,phone\n"))
                .as("one person with two devices")
                .extracting(PeopleList.Line::handle)
                .containsExactly("ana.torres", "ana.torres");
    }

    @Test
    void takesTheColumnsThatThereAreAsASpreadsheetCopiesThem() {
        var lines = PeopleList.read("Name\tHandle\tTeam\nMara Quillfeather\tmara\tmasters\n");

        assertThat(lines).singleElement().satisfies(l -> {
            assertThat(l.number()).isEqualTo(2);
            assertThat(l.handle()).isEqualTo("mara");
            assertThat(l.team()).isEqualTo("masters");
            assertThat(l.mail()).isEmpty();
        });
        assertThat(PeopleList.read("handle;name\njoss;\"Joss; Pell\"\n").get(0).name())
                .isEqualTo("Joss; Pell");
    }

    private static final String DIRECTORY = """
            version: 1

            # an entry that is no person's
            dn: ou=People,dc=skerrivane,dc=example
            objectClass: organizationalUnit
            ou: People

            dn: uid=mara,ou=People,dc=skerrivane,dc=example
            objectClass: inetOrgPerson
            uid: mara
            cn: Mara Quillfeather
            displayName:: TcOhcmEgUXVpbGxmZWF0aGVy
            mail: mara@skerrivane
             .example
            departmentNumber: Ticket Desk

            dn: cn=workstation-7,dc=skerrivane,dc=example
            objectClass: user
            objectClass: computer
            cn: workstation-7

            dn: cn=Joss Pell,dc=skerrivane,dc=example
            objectClass: User
            sAMAccountName: J.Pell
            cn: Joss Pell
            """;

    @Test
    void readsPeopleOutOfADirectorysExport() {
        var lines = PeopleList.read(DIRECTORY);

        assertThat(lines).hasSize(2);
        assertThat(lines.get(0))
                .isEqualTo(new PeopleList.Line(
                        8, "mara", true, "Mára Quillfeather", "mara@skerrivane.example", "ticket-desk", "", "", ""));
        assertThat(lines.get(1).handle()).isEqualTo("j.pell");
        assertThat(PeopleList.read(DIRECTORY.replace("\n", "\r\n"))).isEqualTo(lines);
    }

    @Test
    void refusesADirectorysChanges() {
        assertThatThrownBy(() -> PeopleList.read("dn: uid=x\nchangetype: delete\n"))
                .hasMessageContaining("line 2");
        assertThatThrownBy(() -> PeopleList.read("dn: uid=x\nobjectClass: person\nsn:: ***\n"))
                .hasMessageContaining("line 3");
        assertThatThrownBy(() -> PeopleList.read("version: 1\n")).hasMessageContaining("no entry");
    }
}
