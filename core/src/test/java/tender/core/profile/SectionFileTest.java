package tender.core.profile;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.wire.ParseProblem;

class SectionFileTest {
    private static String value(String line) {
        return SectionFile.read("s {\n" + line + "\n}\n")
                .first("k", "s")
                .orElseThrow()
                .value();
    }

    @Test
    void wordsAndTextInQuotesAreJoinedBySpaces() {
        assertThat(value("k = a  b\t\"c d\"e # no more")).isEqualTo("a b c d e");
        assertThat(value("k = \"a\\tb\\\"c\\\\d\\qe\"")).isEqualTo("a\tb\"c\\dqe");
        assertThat(value("k = \"one \\\ntwo\nthree\"")).isEqualTo("one two\nthree");
        assertThat(value("k\n= v")).isEqualTo("v");
    }

    @Test
    void whatComesLastCountsAndAnEmptyValueTakesAnotherAway() {
        SectionFile file = SectionFile.read("s { k = 1\nj = 1 }\ns { k = 2\nj = }\n");

        assertThat(file.settings()).singleElement().satisfies(s -> {
            assertThat(s.key()).isEqualTo("k");
            assertThat(s.value()).isEqualTo("2");
            assertThat(s.line()).isEqualTo(3);
        });
        assertThat(file.written()).hasSize(3);
    }

    @Test
    void aSectionTakesWhatItDoesNotSayFromOthers() {
        SectionFile file = SectionFile.read("""
                base { a = 1
                  in { b = 2 } }
                more { a = 5
                  c = 5 }
                s : base, more {
                  in { d = 4 }
                }
                self : self { e = 6 }
                """);

        assertThat(file.settings().stream()
                        .filter(s -> s.path().get(0).matches("s|self"))
                        .map(s -> String.join("/", s.path()) + "/" + s.key() + "=" + s.value()))
                .containsExactlyInAnyOrder("s/in/d=4", "s/a=1", "s/in/b=2", "s/c=5", "self/e=6");
    }

    @ParameterizedTest
    @CsvSource({
        "'a {', 1",
        "'a {\nb {\n}', 1",
        "'a {\n k = \"x\n}\n', 4",
        "'}', 1",
        "'a = 1\nb\nc = 2', 3",
        "'a.b { }', 1",
        "'a : { }', 1",
        "'a {\n \"k\" = 1\n}', 2"
    })
    void whereTheRealParserGivesUpIsTold(String text, int line) {
        assertThat(SectionFile.read(text).problems())
                .extracting(ParseProblem::what)
                .singleElement();
        assertThat(SwanctlRules.refusal(text)).map(ParseProblem::line).contains(line);
    }

    @Test
    void aValueIsReplacedWhereItStands() {
        SectionFile file = SectionFile.read("s { k = \"old \\\nvalue\" } # kept\nt { k = 1 }\n");

        SectionFile changed = file.with(file.first("k", "s").orElseThrow(), "a \"b\" \\ c");

        assertThat(changed.text()).isEqualTo("s { k = \"a \\\"b\\\" \\\\ c\" } # kept\nt { k = 1 }\n");
        assertThat(changed.first("k", "s").orElseThrow().value()).isEqualTo("a \"b\" \\ c");
    }

    @Test
    void aListIsCutAtItsCommas() {
        SectionFile.Setting s =
                SectionFile.read("s { k = a , b c,, d }").first("k", "s").orElseThrow();

        assertThat(s.items()).isEqualTo(List.of("a", "b c", "d"));
    }
}
