package tender.core.profile;

import java.util.ArrayList;
import java.util.List;
import tender.core.wire.MalformedException;

/** The words of a line of an OpenVPN file, as OpenVPN 2.6 cuts it. */
final class OpenVpnWords {
    /** Bytes of a line with its end, and of a word, that are still read. */
    static final int MOST_BYTES = 256;

    private static final int MOST_WORDS = 16;

    private OpenVpnWords() {}

    static boolean isSpace(char c) {
        return c == ' ' || c >= '\t' && c <= '\r' || c == 0;
    }

    private enum State {
        BETWEEN,
        PLAIN,
        DOUBLE,
        SINGLE
    }

    /** The words of a line: a closing quote ends a word, a backslash may stand before a backslash, a quote or a blank. */
    static List<String> of(String line) {
        List<String> out = new ArrayList<>();
        StringBuilder word = new StringBuilder();
        State state = State.BETWEEN;
        boolean escaped = false;
        for (char c : (line + "\0").toCharArray()) {
            if (!escaped && c == '\\' && state != State.SINGLE) {
                escaped = true;
                continue;
            }
            char taken = 0;
            boolean ends = false;
            switch (state) {
                case BETWEEN -> {
                    if (!isSpace(c)) {
                        if (c == ';' || c == '#') {
                            return out;
                        }
                        if (!escaped && c == '"') {
                            state = State.DOUBLE;
                        } else if (!escaped && c == '\'') {
                            state = State.SINGLE;
                        } else {
                            taken = c;
                            state = State.PLAIN;
                        }
                    }
                }
                case PLAIN -> {
                    ends = !escaped && isSpace(c);
                    taken = ends ? 0 : c;
                }
                case DOUBLE -> {
                    ends = !escaped && c == '"';
                    taken = ends ? 0 : c;
                }
                case SINGLE -> {
                    ends = c == '\'';
                    taken = ends ? 0 : c;
                }
            }
            if (ends) {
                out.add(word.toString());
                word.setLength(0);
                state = State.BETWEEN;
            }
            if (escaped && taken != 0 && taken != '\\' && taken != '"' && !isSpace(taken)) {
                throw new MalformedException("line", "", "a backslash before a character that needs none");
            }
            escaped = false;
            if (taken != 0) {
                word.append(taken);
            }
            if (out.size() >= MOST_WORDS) {
                return out;
            }
        }
        if (state != State.BETWEEN) {
            throw new MalformedException("line", "", "a quote that is not closed");
        }
        return out;
    }
}
