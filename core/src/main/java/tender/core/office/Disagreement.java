package tender.core.office;

import java.time.Instant;
import java.util.Arrays;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A setting of a listener that a trial saw otherwise than it is known.
 *
 * @param known as people entered it, or files have it
 * @param from where that is known from
 * @param observed as the trial saw it
 */
public record Disagreement(
        String listener, Attribute setting, String known, SettingSource from, String observed, Instant at) {
    /**
     * Whether a trial saw something else than is known; of several items it may see more, in any order. Of the ciphers it sees the one
     * that was agreed on.
     */
    public static boolean differ(Attribute setting, String known, String observed) {
        return setting == Attribute.CIPHERS
                ? !items(known).containsAll(items(observed))
                : !items(observed).containsAll(items(known));
    }

    private static Set<String> items(String value) {
        return Arrays.stream(value.toLowerCase(java.util.Locale.ROOT).split("[,\\s]+"))
                .filter(i -> !i.isEmpty())
                .collect(Collectors.toSet());
    }

    public String words() {
        return setting.word() + ": " + known + " (" + from.title() + "), " + observed + " (a trial)";
    }
}
