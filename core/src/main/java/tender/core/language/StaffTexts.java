package tender.core.language;

import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tender.core.wire.MalformedException;

/**
 * What staff read, in one language. Each language is one catalogue file beside this class, named by its ISO 639 code; a file that
 * is added is a language that is offered.
 */
public final class StaffTexts {
    private static final Pattern NAME = Pattern.compile("\\{([a-z]+)}");
    private static final int MAX_PREFERENCES = 200;
    private static final Map<String, StaffTexts> ALL = all();

    /** The language of those who asked for none that there is. */
    public static final StaffTexts ENGLISH = ALL.get("en");

    private final String language;
    private final Map<String, String> texts;

    private StaffTexts(String language, Map<String, String> texts) {
        this.language = language;
        this.texts = texts;
    }

    private static Map<String, StaffTexts> all() {
        Map<String, StaffTexts> out = new TreeMap<>();
        for (String language : Locale.getISOLanguages()) {
            try (InputStream in = StaffTexts.class.getResourceAsStream(language + ".properties")) {
                if (in != null) {
                    out.put(language, new StaffTexts(language, read(in)));
                }
            } catch (IOException e) {
                throw new UncheckedIOException("a catalogue in the jar can be read", e);
            }
        }
        return out;
    }

    private static Map<String, String> read(InputStream in) throws IOException {
        Properties file = new Properties();
        try (Reader reader = new InputStreamReader(in, StandardCharsets.UTF_8)) {
            file.load(reader);
        }
        Map<String, String> out = new TreeMap<>();
        file.stringPropertyNames().forEach(key -> out.put(key, file.getProperty(key)));
        return out;
    }

    /** Codes of the languages there are, in order. */
    public static List<String> languages() {
        return List.copyOf(ALL.keySet());
    }

    /** @throws MalformedException where there is no such language */
    public static StaffTexts of(String language) {
        StaffTexts found = ALL.get(language);
        if (found == null) {
            throw new MalformedException("language", "language", "one of " + String.join(", ", ALL.keySet()));
        }
        return found;
    }

    /**
     * The language that a browser prefers of those there are (lookup, RFC 4647 §3.4); English where it prefers none of them.
     *
     * @param acceptLanguage the header of that name (RFC 9110 §12.5.4); anything that is none counts as missing
     */
    public static StaffTexts preferred(Optional<String> acceptLanguage) {
        return acceptLanguage
                .filter(header -> header.length() <= MAX_PREFERENCES)
                .map(StaffTexts::lookup)
                .orElse(ENGLISH);
    }

    private static StaffTexts lookup(String header) {
        List<Locale> offered = new ArrayList<>();
        ALL.keySet().forEach(language -> offered.add(Locale.forLanguageTag(language)));
        try {
            Locale found = Locale.lookup(Locale.LanguageRange.parse(header), offered);
            return found == null ? ENGLISH : ALL.get(found.getLanguage());
        } catch (IllegalArgumentException e) {
            return ENGLISH;
        }
    }

    /** Its ISO 639 code. */
    public String language() {
        return language;
    }

    /** For dates. */
    public Locale locale() {
        return Locale.forLanguageTag(language);
    }

    /**
     * A text with its names filled in.
     *
     * @param namesAndValues in pairs: a name as it stands in braces, and what stands in its place
     * @throws IllegalArgumentException where there is no such text, or a name in it has no value
     */
    public String get(String key, String... namesAndValues) {
        String text = texts.get(key);
        if (text == null) {
            throw new IllegalArgumentException("no text " + key + " in " + language);
        }
        return NAME.matcher(text)
                .replaceAll(name -> Matcher.quoteReplacement(value(key, name.group(1), namesAndValues)));
    }

    private static String value(String key, String name, String... namesAndValues) {
        for (int i = 0; i + 1 < namesAndValues.length; i += 2) {
            if (namesAndValues[i].equals(name)) {
                return namesAndValues[i + 1];
            }
        }
        throw new IllegalArgumentException("the text " + key + " needs " + name);
    }

    /** The texts whose keys begin so, by the rest of the key, names not filled in. */
    public Map<String, String> under(String prefix) {
        Map<String, String> out = new TreeMap<>();
        texts.forEach((key, text) -> {
            if (key.startsWith(prefix)) {
                out.put(key.substring(prefix.length()), text);
            }
        });
        return out;
    }
}
