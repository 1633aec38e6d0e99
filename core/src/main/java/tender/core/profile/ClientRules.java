package tender.core.profile;

import java.util.Optional;
import tender.core.wire.ParseProblem;

/** Whether the program that a client's file is for takes it at all. */
public final class ClientRules {
    private ClientRules() {}

    /** The first line that its program refuses; empty where it takes the file, or where its rules are not known here. */
    public static Optional<ParseProblem> refusal(String text) {
        if (WireGuardFile.looksLike(text)) {
            return WireGuardRules.refusal(text);
        }
        if (OpenVpnClient.looksLike(OpenVpnFile.read(text).file())) {
            return OpenVpnRules.refusal(text)
                    .or(() -> OpenVpnLocks.refusal(OpenVpnFile.read(text).file()));
        }
        return IkeProfile.looksLike(text) ? SwanctlRules.refusal(IkeProfile.section(text)) : Optional.empty();
    }
}
