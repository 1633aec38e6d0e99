package tender.core.profile;

import java.util.Base64;
import java.util.Optional;
import tender.core.certificate.KeyProtection;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;

/** Whether OpenVPN 2.6 on OpenSSL 3 opens the key that a client's file holds, whatever the passphrase. */
final class OpenVpnLocks {
    private static final String WHAT =
            "locked in a way that OpenSSL 3, and so OpenVPN 2.6, opens with 'providers legacy default' alone";

    private OpenVpnLocks() {}

    static Optional<ParseProblem> refusal(OpenVpnFile file) {
        return opensOldOnes(file) ? Optional.empty() : of(file, "pkcs12").or(() -> of(file, "key"));
    }

    static boolean opensOldOnes(OpenVpnFile file) {
        return file.all("providers").stream().anyMatch(d -> d.words().contains("legacy"));
    }

    private static Optional<ParseProblem> of(OpenVpnFile file, String name) {
        return file.last(name)
                .filter(d -> d.block().filter(b -> isRefused(name, b)).isPresent())
                .map(d -> new ParseProblem(d.line(), "refused", name + ": " + WHAT));
    }

    /** What cannot be read at all is told where it is read. */
    private static boolean isRefused(String name, String block) {
        try {
            return name.equals("pkcs12")
                    ? KeyStoreFile.of(Base64.getMimeDecoder().decode(block)).isRefused()
                    : PemText.read(block).blocks().stream()
                            .filter(b -> PrivateKeyFile.isKey(b.label()))
                            .findFirst()
                            .flatMap(b -> PrivateKeyFile.of(b).protection())
                            .filter(KeyProtection::refused)
                            .isPresent();
        } catch (MalformedException | IllegalArgumentException e) {
            return false;
        }
    }
}
