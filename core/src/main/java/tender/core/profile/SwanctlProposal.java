package tender.core.profile;

import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;

/** Proposals of algorithms as strongSwan 5.9 takes them in settings: which words there are, and what may not be missing. */
final class SwanctlProposal {
    /** What is protected by it. */
    enum Use {
        IKE,
        ESP,
        AH
    }

    private static final Pattern AUTHENTICATED =
            Pattern.compile("aes(128|192|256)(ccm|gcm)(8|12|16|64|96|128)?|camellia(128|192|256)ccm(8|12|16|64|96|128)"
                    + "|aes(128|192|256)gmac|chacha20poly1305(compat)?");
    private static final Pattern GMAC = Pattern.compile("aes(128|192|256)gmac");
    private static final Pattern CIPHER = Pattern.compile(
            "null|aes(128|192|256)?|aes(128|192|256)ctr|camellia|camellia(128|192|256)(ctr)?|3?des|cast128"
                    + "|(blowfish|serpent|twofish)(128|192|256)?");
    private static final Pattern HASH =
            Pattern.compile("md5(_128)?|sha|sha1(_160)?|sha(2_)?(256|384|512)|aesxcbc|aescmac|camelliaxcbc");
    private static final Pattern SHORT_HASH = Pattern.compile("sha(2_)?256_96");
    private static final Pattern PRF =
            Pattern.compile("prf(md5|sha1|sha256|sha384|sha512|aesxcbc|aescmac|camelliaxcbc)");
    private static final Pattern GROUP =
            Pattern.compile("modp(null|768|1024|1536|2048|3072|4096|6144|8192)|modp1024s160"
                    + "|modp2048s(224|256)|ecp(192|224|256|384|521)|ecp(224|256|384|512)bp|(curve|x)25519|(curve|x)448"
                    + "|ntru(112|128|192|256)|newhope128");
    private static final Set<String> NOTHING = Set.of("none", "modpnone", "esn", "noesn");

    private SwanctlProposal() {}

    static boolean isOne(String text, Use use) {
        if (text.equals("default")) {
            return true;
        }
        List<String> words = Arrays.stream(text.split("-"))
                .map(String::strip)
                .filter(w -> !w.isEmpty())
                .toList();
        boolean authenticated = any(words, AUTHENTICATED);
        boolean cipher = any(words, CIPHER);
        boolean hash = any(words, HASH);
        boolean known = words.stream().allMatch(SwanctlProposal::isKnown);
        return known
                && switch (use) {
                    case IKE -> authenticated != cipher && group(words) && protectedBy(words, authenticated, hash);
                    case ESP -> authenticated != cipher;
                    case AH -> hash || any(words, SHORT_HASH) || any(words, GMAC);
                };
    }

    /** A group that is none stands for no group at all, also beside another. */
    private static boolean group(List<String> words) {
        return any(words, GROUP) && words.stream().noneMatch(w -> w.equals("none") || w.equals("modpnone"));
    }

    private static boolean protectedBy(List<String> words, boolean authenticated, boolean hash) {
        boolean prf = any(words, PRF) || hash;
        return prf && (authenticated || hash || any(words, SHORT_HASH));
    }

    private static boolean isKnown(String word) {
        return NOTHING.contains(word)
                || List.of(AUTHENTICATED, CIPHER, HASH, SHORT_HASH, PRF, GROUP).stream()
                        .anyMatch(p -> p.matcher(word).matches());
    }

    private static boolean any(List<String> words, Pattern pattern) {
        return words.stream().anyMatch(w -> pattern.matcher(w).matches());
    }
}
