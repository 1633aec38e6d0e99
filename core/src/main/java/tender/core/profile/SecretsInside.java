package tender.core.profile;

import java.util.Base64;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.regex.MatchResult;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The secrets that stand in a text, so that they are kept back wherever they turn up in what is said of it: also as somebody's
 * name, in a comment, or where a public value belongs.
 */
public final class SecretsInside {
    private static final int SHORTEST = 5;
    private static final Pattern SETTING = Pattern.compile(
            "(?im)^[ \\t]*(?:PrivateKey|PresharedKey|secret[\\w-]*|psk|password)[ \\t]*=[ \\t]*\"?([^\"\\r\\n]+?)\"?[ \\t]*$");
    private static final Pattern SAID = Pattern.compile(
            "(?i)(?:password|passphrase|passwd|secret|psk|pin|private ?key|preshared ?key)[\"']?\\s*(?:[:=]|is)\\s*[\"']?([^\\s\"']+)");
    private static final Pattern BLOCK = Pattern.compile(
            "(?ims)^[ \\t]*<(key|tls-auth|tls-crypt|tls-crypt-v2|secret|pkcs12|auth-user-pass|http-proxy-user-pass)>[ \\t]*\\r?\\n(.*?)(?:^[ \\t]*</\\1>|\\z)");
    private static final Pattern PEM = Pattern.compile(
            "(?s)-----BEGIN [^-\\n]*(?:PRIVATE KEY|Static key|tls-crypt)[^-\\n]*-----(.*?)(?:-----END |\\z)");
    private static final Pattern TUNNEL_KEY =
            Pattern.compile("(?<![A-Za-z0-9+/=])[A-Za-z0-9+/]{43}=(?![A-Za-z0-9+/=])");

    private final List<String> known;

    private SecretsInside(Set<String> known) {
        this.known = known.stream()
                .filter(s -> s.length() >= SHORTEST)
                .sorted(Comparator.comparingInt(String::length).reversed())
                .toList();
    }

    public static SecretsInside of(String text) {
        Set<String> out = new LinkedHashSet<>();
        SETTING.matcher(text).results().map(m -> m.group(1).strip()).forEach(out::add);
        text.lines()
                .filter(l -> l.strip().startsWith("#") || l.strip().startsWith(";"))
                .forEach(l -> SAID.matcher(l).results().map(m -> m.group(1)).forEach(out::add));
        BLOCK.matcher(text).results().forEach(m -> block(m, out));
        PEM.matcher(text)
                .results()
                .forEach(m -> m.group(1).lines().map(String::strip).forEach(out::add));
        return new SecretsInside(out);
    }

    /** Of a name with a password the second line alone is one; the name is not. */
    private static void block(MatchResult block, Set<String> out) {
        boolean login = block.group(1).toLowerCase(java.util.Locale.ROOT).endsWith("user-pass");
        block.group(2)
                .lines()
                .skip(login ? 1 : 0)
                .map(String::strip)
                .filter(l -> !l.startsWith("-----") && !l.startsWith("#"))
                .forEach(out::add);
    }

    /** The same text without them, and without any tunnel key that has the form of a private one. */
    public String hidden(String text) {
        String out = text;
        for (String secret : known) {
            out = out.replace(secret, MaskedText.KEPT_BACK);
        }
        return TUNNEL_KEY
                .matcher(out)
                .replaceAll(m -> Matcher.quoteReplacement(isPrivate(m.group()) ? MaskedText.KEPT_BACK : m.group()));
    }

    /**
     * Whether 32 bytes have the form that programs give private keys (RFC 7748 §5: three bits clear, one clear, one set), as
     * one in 32 public keys has by chance.
     */
    private static boolean isPrivate(String base64) {
        byte[] key = Base64.getDecoder().decode(base64);
        return (key[0] & 7) == 0 && (key[31] & 0xc0) == 0x40;
    }
}
