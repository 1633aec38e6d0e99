package tender.client.command;

import java.nio.file.Path;
import java.util.Optional;
import tender.api.OperatorApi;
import tender.api.ProblemCode;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;

/** Proving anew who one is, for what takes secrets out or widens trust. */
public final class Fresh {
    /** Names a file whose first line is the password, for scripts. */
    private static final String PASSWORD_FILE = "TENDER_PASSWORD_FILE";

    private Fresh() {}

    public static OperatorApi.FreshUntil prove(Calls calls, Optional<Integer> passwordFd, Optional<String> code) {
        Secret password = password(passwordFd);
        try {
            return prove(calls, password, code);
        } catch (CallFailure e) {
            if (!e.is(ProblemCode.CODE_NEEDED) || code.isPresent()) {
                throw e;
            }
            String asked =
                    new Terminal().secret("one-time code", Optional.empty()).revealText(RevealSecret.TO_SIGN_IN);
            return prove(calls, password, Optional.of(asked));
        }
    }

    private static Secret password(Optional<Integer> passwordFd) {
        String file = System.getenv(PASSWORD_FILE);
        if (passwordFd.isEmpty() && file != null) {
            return Terminal.firstLine(Path.of(file));
        }
        if (passwordFd.isEmpty() && System.console() == null) {
            throw CallFailure.of(
                    ProblemCode.NOT_FRESH, "this needs your password again, and there is no terminal to ask at");
        }
        return new Terminal().secret("your password, for what takes secrets out", passwordFd);
    }

    private static OperatorApi.FreshUntil prove(Calls calls, Secret password, Optional<String> code) {
        return calls.post("/me/fresh", new OperatorApi.Fresh(password, code), OperatorApi.FreshUntil.class);
    }
}
