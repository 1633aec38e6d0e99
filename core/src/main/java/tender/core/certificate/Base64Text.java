package tender.core.certificate;

import java.util.Base64;

/** Base64 as OpenSSL decodes it: blanks anywhere, a hyphen ends it, and nothing but padding behind padding. */
final class Base64Text {
    private static final int MOST_PADDING = 2;

    private Base64Text() {}

    /** Null where it cannot be decoded. */
    static byte[] read(CharSequence text) {
        StringBuilder out = new StringBuilder(text.length());
        int padding = 0;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c == '-') {
                break;
            }
            boolean letter =
                    c >= 'A' && c <= 'Z' || c >= 'a' && c <= 'z' || c >= '0' && c <= '9' || c == '+' || c == '/';
            if (letter && padding == 0) {
                out.append(c);
            } else if (c == '=' && padding < MOST_PADDING) {
                padding++;
                out.append(c);
            } else if (c != ' ' && c != '\t' && c != '\r' && c != '\n') {
                return null;
            }
        }
        try {
            return out.length() % 4 == 0 && out.length() > 0
                    ? Base64.getDecoder().decode(out.toString())
                    : null;
        } catch (IllegalArgumentException e) {
            return null;
        }
    }
}
