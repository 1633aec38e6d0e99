package tender.core.device;

import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tender.core.wire.MalformedException;

/**
 * The fixed words of a command. Values enter at typed placeholders alone: {@code {seconds}} and {@code {epoch}} are whole
 * numbers, {@code {listener}} a name without any sign that a shell knows, {@code {time}} a time in digits.
 */
public record CommandWords(String words) {
    private static final int MAX_WORDS = 400;
    private static final Pattern PLACEHOLDER = Pattern.compile("\\{([a-z]+)}");
    private static final Map<String, Pattern> TYPES = Map.of(
            "seconds", Pattern.compile("[0-9]{1,6}"),
            "epoch", Pattern.compile("[0-9]{1,12}"),
            "time", Pattern.compile("[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9]{2}:[0-9]{2}:[0-9]{2}Z"),
            "listener", Pattern.compile("[A-Za-z0-9][A-Za-z0-9._-]{0,39}"));

    public CommandWords {
        if (words.isBlank() || words.length() > MAX_WORDS || words.chars().anyMatch(Character::isISOControl)) {
            throw new MalformedException("command", "", "1 to " + MAX_WORDS + " printable characters on one line");
        }
        Matcher m = PLACEHOLDER.matcher(words);
        while (m.find()) {
            if (!TYPES.containsKey(m.group(1))) {
                throw new MalformedException(
                        "placeholder", "", "placeholders are " + String.join(", ", Set.copyOf(TYPES.keySet())));
            }
        }
    }

    /** The command with its values; a value that is not of its placeholder's type is refused. */
    public String with(Map<String, String> values) {
        Matcher m = PLACEHOLDER.matcher(words);
        StringBuilder out = new StringBuilder();
        while (m.find()) {
            String value = values.get(m.group(1));
            if (value == null || !TYPES.get(m.group(1)).matcher(value).matches()) {
                throw new MalformedException("placeholder", m.group(1), "not a value that may stand in a command");
            }
            m.appendReplacement(out, Matcher.quoteReplacement(value));
        }
        return m.appendTail(out).toString();
    }

    public boolean takes(String placeholder) {
        return words.contains("{" + placeholder + "}");
    }
}
