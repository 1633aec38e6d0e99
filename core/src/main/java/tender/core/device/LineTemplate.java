package tender.core.device;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.wire.MalformedException;

/**
 * How a record is written on a line: words parted by blanks, some of them placeholders such as {@code {port}}. Reads and
 * writes; blanks may be any, and what follows a {@code #} is the record's label.
 */
public final class LineTemplate {
    private static final int MAX_TOKENS = 40;

    private final List<String> tokens;

    private LineTemplate(List<String> tokens) {
        this.tokens = tokens;
    }

    /**
     * @param text words and placeholders such as {@code {port}}, at least one word among them
     * @throws MalformedException where it is not that
     */
    public static LineTemplate parse(String text) {
        List<String> tokens = List.of(text.strip().split("\\s+"));
        if (text.isBlank() || tokens.size() > MAX_TOKENS) {
            throw new MalformedException("template", "", "1 to " + MAX_TOKENS + " words");
        }
        for (String token : tokens) {
            boolean placeholder = token.matches("\\{[a-z-]+}");
            if (!placeholder && !token.matches("[A-Za-z0-9=:>,._-]+")) {
                throw new MalformedException("template", "", "words, or placeholders like {port}");
            }
        }
        if (isPlaceholder(tokens.get(0)) && tokens.stream().allMatch(LineTemplate::isPlaceholder)) {
            throw new MalformedException("template", "", "at least one word must be fixed");
        }
        return new LineTemplate(tokens);
    }

    private static boolean isPlaceholder(String token) {
        return token.startsWith("{");
    }

    private static String name(String token) {
        return token.substring(1, token.length() - 1);
    }

    /** The values at the placeholders, with {@code label} for what follows a {@code #}; empty for another kind of line. */
    public Optional<Map<String, String>> match(String line) {
        int hash = line.indexOf('#');
        String text = hash < 0 ? line : line.substring(0, hash);
        String[] words = text.strip().split("\\s+", MAX_TOKENS + 1);
        if (words.length != tokens.size()) {
            return Optional.empty();
        }
        Map<String, String> out = new LinkedHashMap<>();
        for (int i = 0; i < words.length; i++) {
            String token = tokens.get(i);
            if (isPlaceholder(token)) {
                out.put(name(token), words[i]);
            } else if (!token.equals(words[i])) {
                return Optional.empty();
            }
        }
        out.put("label", hash < 0 ? "" : line.substring(hash + 1).strip());
        return Optional.of(out);
    }

    /** The line; values must not hold blanks. */
    public String print(Map<String, String> values) {
        List<String> words = new ArrayList<>();
        for (String token : tokens) {
            String word = isPlaceholder(token) ? values.get(name(token)) : token;
            if (word == null || word.isEmpty() || !word.matches("[\\x21-\\x22\\x24-\\x7e]+")) {
                throw new MalformedException("line", name(token), "a value without blanks is needed here");
            }
            words.add(word);
        }
        String label = values.getOrDefault("label", "");
        return String.join(" ", words) + (label.isEmpty() ? "" : "  # " + label);
    }

    @Override
    public String toString() {
        return String.join(" ", tokens);
    }
}
