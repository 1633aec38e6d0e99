package tender.api;

import java.util.Locale;

/** Every way a call can fail: HTTP status, the client's exit code, a title, and what to do. Codes are stable. */
public enum ProblemCode {
    MALFORMED(400, 2, "The request cannot be read", "Correct the named field or line and send it again."),
    NOT_SIGNED_IN(401, 4, "Nobody is signed in", "Sign in: tender sign-in, or the console's sign-in page."),
    WRONG_SIGN_IN(401, 4, "Name, password or code is wrong", "Check all three; after several failures wait a while."),
    CODE_NEEDED(401, 4, "A one-time code is needed", "Sign in again with the six digits from your authenticator app."),
    NOT_FRESH(
            403,
            4,
            "This needs a fresh sign-in",
            "Confirm your password: tender operator confirm, or in the console; then repeat within five minutes."),
    PASSWORD_CHANGE_NEEDED(403, 4, "The first password has to be changed", "Change it: tender operator password."),
    NOT_ALLOWED(403, 4, "This role may not do that", "Ask an owner."),
    NOT_FOUND(404, 1, "Not found", "Check the name, or list what there is."),
    LINK_OPENS_NOTHING(
            404,
            1,
            "Link and passphrase do not match",
            "Check the passphrase. If it is right, the link has expired or was used: ask for another one."),
    CONFLICT(
            409,
            1,
            "It exists already, or its state does not allow this",
            "Look at its current state, then try again."),
    KEY_NOT_HELD(
            409,
            1,
            "Tender does not have this device's key",
            "Prove it on the device with tender trial run FILE, or wait for a session."),
    IDENTITY_NOT_ACCEPTED(
            409,
            1,
            "The gateway's identity has not been accepted",
            "Compare the fingerprint on the device, then accept it."),
    UNFIT(
            409,
            1,
            "The profile is not ready to be handed out",
            "Fix what is named, or hand it out anyway and say why: --override REASON."),
    STALE(412, 1, "Somebody else changed it meanwhile", "Read it again and repeat the change."),
    TOO_LARGE(413, 2, "The request is too large", "Send less at once."),
    VERSION_NEEDED(428, 2, "The version to be changed is missing", "Send If-Match with the version that was read."),
    TOO_MANY(429, 1, "Too many attempts", "Wait as long as Retry-After says."),
    GATEWAY_UNREACHABLE(502, 3, "The gateway does not answer", "Check that it is on and its address is right."),
    GATEWAY_REFUSED(502, 1, "The gateway refused", "Check user, key or password, and rights on the gateway."),
    GATEWAY_IDENTITY_CHANGED(502, 1, "The gateway shows another identity", "Find out why before accepting it."),
    BUSY(503, 3, "The service is busy", "Wait as long as Retry-After says, then try again."),
    BODY_TOO_SLOW(408, 3, "The request arrives too slowly", "Send the whole request within ten seconds."),
    ENROL_NEEDED(
            403,
            4,
            "A second factor has to be set up first",
            "Set it up: tender operator code, or the console's page after signing in."),
    UNAVAILABLE(503, 3, "The service cannot do this now", "Try again in a moment; see the service's log if it lasts."),
    FAILED(500, 1, "Internal error", "See the service's log for the time of the call.");

    private final int status;
    private final int exitCode;
    private final String title;
    private final String remedy;

    ProblemCode(int status, int exitCode, String title, String remedy) {
        this.status = status;
        this.exitCode = exitCode;
        this.title = title;
        this.remedy = remedy;
    }

    public int status() {
        return status;
    }

    public int exitCode() {
        return exitCode;
    }

    public String title() {
        return title;
    }

    public String remedy() {
        return remedy;
    }

    /** As it stands in answers: {@code not-found}. */
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public static ProblemCode ofWord(String word) {
        for (ProblemCode code : values()) {
            if (code.word().equals(word)) {
                return code;
            }
        }
        return FAILED;
    }
}
