package tender.client.command;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.time.LocalTime;
import java.time.ZonedDateTime;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class TimesTest {
    /** A Saturday afternoon, the day before summer time ends in Oslo. */
    private static final ZonedDateTime NOW = ZonedDateTime.parse("2026-10-24T15:30:00+02:00[Europe/Oslo]");

    @ParameterizedTest
    @CsvSource({
        "2027-01-20,2027-01-19T23:00:00Z",
        "2027-01-20 18:00,2027-01-20T17:00:00Z",
        "2027-01-20T18:00,2027-01-20T17:00:00Z",
        "Tomorrow 18:00,2026-10-25T17:00:00Z",
        "today 9:05,2026-10-24T07:05:00Z",
        "tomorrow,2026-10-24T22:00:00Z",
        "30d,2026-11-23T14:30:00Z",
        "1d,2026-10-25T14:30:00Z",
        "24h,2026-10-25T13:30:00Z",
        "45m,2026-10-24T14:15:00Z",
        "2w,2026-11-07T14:30:00Z",
        "1y,2027-10-24T13:30:00Z",
        "2026-11-24T03:00:00Z,2026-11-24T03:00:00Z"
    })
    void areReadAsPeopleWriteThem(String text, Instant expected) {
        assertThat(Times.read(text, LocalTime.MIDNIGHT, NOW)).isEqualTo(expected);
    }

    @ParameterizedTest
    @CsvSource({"2027-01-20,2027-01-20T22:59:59Z", "today,2026-10-24T21:59:59Z", "2027-01-20 18:00,2027-01-20T17:00:00Z"
    })
    void aDateThatSomethingLastsUntilIsThatWholeDay(String text, Instant expected) {
        assertThat(Times.read(text, LocalTime.of(23, 59, 59), NOW)).isEqualTo(expected);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "soon",
                "2027-13-01",
                "2027-02-30",
                "today 25:00",
                "30x",
                "999999d",
                "20.01.2027",
                "yesterday"
            })
    void anythingElseIsRefusedWithTheFormsThereAre(String text) {
        assertThatThrownBy(() -> Times.read(text)).isInstanceOf(CallFailure.class);
    }
}
