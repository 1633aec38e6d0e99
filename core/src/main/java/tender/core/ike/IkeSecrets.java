package tender.core.ike;

import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import tender.core.credential.Secret;
import tender.core.profile.SectionFile;
import tender.core.profile.SectionFile.Setting;

/** Secrets that stand in a swanctl file. */
final class IkeSecrets {
    private static final String WITH_NAMES = "id";

    private IkeSecrets() {}

    /**
     * The secret of a kind that is for somebody, else one for nobody by name, else the first.
     *
     * @param kind {@code ike} for a shared secret, {@code eap} for an account's password
     */
    static Optional<Secret> of(String section, String kind, Optional<String> whose) {
        List<Setting> all = SectionFile.read(section).settings();
        List<Setting> secrets = all.stream()
                .filter(s -> s.key().equals("secret")
                        && s.path().size() == 2
                        && s.path().get(0).equals("secrets"))
                .filter(s -> isKind(s.path().get(1), kind))
                .toList();
        return secrets.stream()
                .filter(s -> names(s, all).stream()
                        .anyMatch(n -> whose.filter(n::equals).isPresent()))
                .findFirst()
                .or(() -> secrets.stream().filter(s -> names(s, all).isEmpty()).findFirst())
                .or(() -> secrets.stream().findFirst())
                .map(s -> secret(s.value()));
    }

    private static boolean isKind(String section, String kind) {
        return section.startsWith(kind) || kind.equals("eap") && section.matches("(xauth|ntlm).*");
    }

    private static List<String> names(Setting secret, List<Setting> all) {
        return all.stream()
                .filter(s -> s.path().equals(secret.path()) && s.key().startsWith(WITH_NAMES))
                .map(Setting::value)
                .toList();
    }

    /** As swanctl reads it: {@code 0x} and hexadecimal digits, {@code 0s} and base64, else the text itself. */
    private static Secret secret(String value) {
        try {
            if (value.regionMatches(true, 0, "0x", 0, 2)) {
                String digits = value.substring(2);
                return Secret.of(HexFormat.of().parseHex(digits.length() % 2 == 0 ? digits : "0" + digits));
            }
            if (value.regionMatches(true, 0, "0s", 0, 2)) {
                return Secret.of(Base64.getDecoder().decode(value.substring(2)));
            }
        } catch (IllegalArgumentException e) {
            return Secret.of(value);
        }
        return Secret.of(value);
    }
}
