package tender.core.wire;

import java.util.Optional;
import java.util.function.Function;

/** Checks of texts that people enter; each names the field and never repeats the value. */
public final class Fields {
    private static final int MAX_MAIL = 254;
    private static final int MAX_TITLE = 120;

    private Fields() {}

    /** A short name that can stand in a command, a file or a link: letters, digits, dot, hyphen. */
    public static String name(String field, String value) {
        String text = required(field, value);
        if (!text.matches("[a-z0-9]([a-z0-9.-]{0,38}[a-z0-9])?")) {
            throw new MalformedException("name", field, "1 to 40 lower-case letters, digits, dots or hyphens");
        }
        return text;
    }

    /** A line of text for people to read: printable, at most 120 characters. */
    public static String title(String field, String value) {
        String text = required(field, value);
        if (text.length() > MAX_TITLE
                || text.chars().anyMatch(c -> Character.isISOControl(c) || Character.getType(c) == Character.FORMAT)) {
            throw new MalformedException("text", field, "at most 120 printable characters");
        }
        return text;
    }

    /** A text that may be missing or blank. */
    public static String optionalTitle(String field, Optional<String> value) {
        return value == null || value.isEmpty() || value.get().isBlank() ? "" : title(field, value.get());
    }

    /** One mail address (RFC 5321, section 4.1.2, without quoted names and without comments). */
    public static String mail(String field, String value) {
        String text = required(field, value);
        if (text.length() > MAX_MAIL || !text.matches("[A-Za-z0-9.!#$%&'*+/=?^_`{|}~-]+@[A-Za-z0-9][A-Za-z0-9.-]*")) {
            throw new MalformedException("mail", field, "one mail address, such as it@harbour-it.example");
        }
        return text;
    }

    public static String required(String field, String value) {
        if (value == null || value.isBlank()) {
            throw new MalformedException("missing", field, "is needed");
        }
        return value.strip();
    }

    /** Something that must be given, of any type. */
    public static <T> T given(String field, T value) {
        if (value == null) {
            throw new MalformedException("missing", field, "is needed");
        }
        return value;
    }

    /** Parses a field's value; a fault is told with the field's name before it. */
    public static <T> T parse(String field, String value, Function<String, T> parser) {
        try {
            return parser.apply(required(field, value));
        } catch (MalformedException e) {
            throw e.place().equals(field) ? e : e.at(field);
        }
    }

    /** A whole number that somebody wrote. */
    public static int number(String field, String value, int min, int max) {
        boolean written = value.matches("[0-9]{1,9}");
        return range(field, written ? Integer.parseInt(value) : Integer.MIN_VALUE, min, max);
    }

    public static int range(String field, int value, int min, int max) {
        if (value < min || value > max) {
            throw new MalformedException("number", field, "a whole number from " + min + " to " + max);
        }
        return value;
    }
}
