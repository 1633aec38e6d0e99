package tender.core.profile;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** A profile's text to look at: every secret in it is replaced, line by line, so that lines keep their numbers. */
public final class MaskedText {
    public static final String KEPT_BACK = "(kept back)";
    private static final Pattern SETTING =
            Pattern.compile("(?i)^(\\s*(?:PrivateKey|PresharedKey|secret[\\w-]*|password)\\s*=\\s*).+$");
    private static final Pattern OPEN = Pattern.compile("^\\s*<([a-z0-9-]+)>\\s*$");
    private static final Set<String> SECRET_BLOCKS = Set.of(
            "key",
            "tls-auth",
            "tls-crypt",
            "tls-crypt-v2",
            "secret",
            "pkcs12",
            "auth-user-pass",
            "http-proxy-user-pass");

    private MaskedText() {}

    public static List<String> of(String text) {
        SecretsInside secrets = SecretsInside.of(text);
        List<String> out = new ArrayList<>();
        String block = "";
        boolean pem = false;
        for (String line : text.split("\r?\n", -1)) {
            Matcher opens = OPEN.matcher(line);
            String plain = line.strip();
            if (!block.isEmpty()) {
                boolean ends = plain.equals("</" + block + ">");
                out.add(ends ? line : KEPT_BACK);
                block = ends ? "" : block;
            } else if (pem) {
                boolean ends = plain.startsWith("-----END ");
                out.add(ends ? line : KEPT_BACK);
                pem = !ends;
            } else if (opens.matches() && SECRET_BLOCKS.contains(opens.group(1))) {
                block = opens.group(1);
                out.add(line);
            } else if (plain.startsWith("-----BEGIN ") && isSecret(plain)) {
                pem = true;
                out.add(line);
            } else {
                out.add(secrets.hidden(SETTING.matcher(line).replaceFirst("$1" + Matcher.quoteReplacement(KEPT_BACK))));
            }
        }
        return out;
    }

    private static boolean isSecret(String begins) {
        String label = begins.toUpperCase(Locale.ROOT);
        return label.contains("PRIVATE KEY") || label.contains("STATIC KEY") || label.contains("TLS-CRYPT");
    }
}
