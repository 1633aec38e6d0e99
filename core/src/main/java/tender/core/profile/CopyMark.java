package tender.core.profile;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tender.core.wire.Sha256;

/**
 * What two client files have in common that are copies of one profile, however their other lines differ: the device's private key or its
 * certificate. Given as a digest, so that nothing secret leaves the file.
 */
public final class CopyMark {
    private static final Pattern TUNNEL_KEY = Pattern.compile("(?im)^[ \\t]*PrivateKey[ \\t]*=[ \\t]*(\\S+)");
    private static final Pattern CERTIFICATE =
            Pattern.compile("(?is)<cert>.*?-----BEGIN CERTIFICATE-----(.*?)-----END CERTIFICATE-----.*?</cert>");

    private CopyMark() {}

    /** Empty where a text holds neither. */
    public static Optional<String> of(String text) {
        Matcher key = TUNNEL_KEY.matcher(text);
        if (key.find()) {
            return Optional.of(Sha256.hex("key " + key.group(1)));
        }
        Matcher certificate = CERTIFICATE.matcher(text);
        return certificate.find()
                ? Optional.of(Sha256.hex("certificate " + certificate.group(1).replaceAll("\\s+", "")))
                : Optional.empty();
    }
}
