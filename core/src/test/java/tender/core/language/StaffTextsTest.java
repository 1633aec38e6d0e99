package tender.core.language;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.wire.MalformedException;

class StaffTextsTest {
    private static final Pattern NAME = Pattern.compile("\\{[^}]*}");

    static List<String> languages() {
        return StaffTexts.languages();
    }

    /** Each key with the names that its text has filled in. */
    private static Map<String, List<String>> shape(StaffTexts texts) {
        Map<String, List<String>> out = new TreeMap<>();
        texts.under("")
                .forEach((key, text) -> out.put(
                        key,
                        NAME.matcher(text)
                                .results()
                                .map(MatchResult::group)
                                .sorted()
                                .toList()));
        return out;
    }

    @Test
    void englishAndGermanAreThere() {
        assertThat(StaffTexts.languages()).contains("de", "en");
    }

    @ParameterizedTest
    @MethodSource("languages")
    void everyLanguageSaysAllThatEnglishSays(String language) {
        StaffTexts texts = StaffTexts.of(language);

        assertThat(shape(texts)).isEqualTo(shape(StaffTexts.ENGLISH));
        assertThat(texts.under("").values()).noneMatch(String::isBlank);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "de | de",
                "de-AT,en;q=0.5 | de",
                "fr,de;q=0.4,en;q=0.9 | en",
                "fr-CA | en",
                "* | en",
                "'' | en",
                "de;q=x | en",
                ";;; | en"
            })
    void theBrowsersLanguageIsTakenWhereItIsThere(String header, String language) {
        assertThat(StaffTexts.preferred(Optional.of(header)).language()).isEqualTo(language);
    }

    @Test
    void aHeaderTooLongOrMissingCountsAsNone() {
        assertThat(StaffTexts.preferred(Optional.empty())).isSameAs(StaffTexts.ENGLISH);
        assertThat(StaffTexts.preferred(Optional.of("de,".repeat(500)))).isSameAs(StaffTexts.ENGLISH);
    }

    @Test
    void namesAreFilledInAndWhatTheyStandForIsNeverReadAsAName() {
        assertThat(StaffTexts.ENGLISH.get("page.save", "file", "{file}$1.conf")).isEqualTo("Save {file}$1.conf");
        assertThatThrownBy(() -> StaffTexts.ENGLISH.get("page.save")).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> StaffTexts.ENGLISH.get("no-such-text")).hasMessageContaining("no-such-text");
        assertThatThrownBy(() -> StaffTexts.of("xx"))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("de, en");
    }
}
