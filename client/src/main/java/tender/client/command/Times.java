package tender.client.command;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.Period;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tender.api.ProblemCode;

/**
 * Times as people write them on the command line: a date, a date with a time of day, {@code today} or {@code tomorrow} with or
 * without a time of day, a length from now such as {@code 30d}, or an instant in UTC (RFC 3339). Dates and times of day are those
 * of this machine's time zone.
 */
public final class Times {
    /** How a time is written, for help and errors. */
    public static final String WRITTEN =
            "2027-01-20, \"2027-01-20 18:00\", \"tomorrow 18:00\", 30d or 2027-01-20T17:00:00Z";

    private static final Pattern LENGTH = Pattern.compile("([0-9]{1,5})(m|h|d|w|y)");
    private static final Pattern DAY =
            Pattern.compile("(today|tomorrow|[0-9]{4}-[0-9]{2}-[0-9]{2})(?:[ t]+([0-9]{1,2}:[0-9]{2}))?");
    private static final LocalTime LAST = LocalTime.of(23, 59, 59);

    private Times() {}

    /**
     * When something begins or is done; a date means its first moment.
     *
     * @throws CallFailure if the text is no time
     */
    public static Instant read(String text) {
        return read(text, LocalTime.MIDNIGHT, ZonedDateTime.now());
    }

    /**
     * Until when something lasts; a date means its last second.
     *
     * @throws CallFailure if the text is no time
     */
    public static Instant until(String text) {
        return read(text, LAST, ZonedDateTime.now());
    }

    static Instant read(String text, LocalTime ofDay, ZonedDateTime now) {
        String written = text.strip().toLowerCase(Locale.ROOT);
        Matcher length = LENGTH.matcher(written);
        Matcher day = DAY.matcher(written);
        try {
            if (length.matches()) {
                return later(now, Integer.parseInt(length.group(1)), length.group(2))
                        .toInstant();
            }
            if (day.matches()) {
                LocalTime time = day.group(2) == null
                        ? ofDay
                        : LocalTime.parse(day.group(2).length() == 4 ? "0" + day.group(2) : day.group(2));
                return at(date(day.group(1), now), time, now.getZone());
            }
            return Instant.parse(text.strip());
        } catch (DateTimeException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "\"" + text + "\" is no time; write " + WRITTEN);
        }
    }

    private static ZonedDateTime later(ZonedDateTime now, int count, String unit) {
        return switch (unit) {
            case "m" -> now.plus(Duration.ofMinutes(count));
            case "h" -> now.plus(Duration.ofHours(count));
            case "w" -> now.plus(Period.ofWeeks(count));
            case "y" -> now.plus(Period.ofYears(count));
            default -> now.plus(Period.ofDays(count));
        };
    }

    private static LocalDate date(String word, ZonedDateTime now) {
        return switch (word) {
            case "today" -> now.toLocalDate();
            case "tomorrow" -> now.toLocalDate().plusDays(1);
            default -> LocalDate.parse(word);
        };
    }

    private static Instant at(LocalDate date, LocalTime time, ZoneId zone) {
        return LocalDateTime.of(date, time).atZone(zone).toInstant();
    }
}
