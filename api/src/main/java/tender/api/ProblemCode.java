package tender.api;

import java.util.Locale;

/** Every way a call can fail: HTTP status, the client's exit code, a title, and what to do. Codes are stable. */
public enum ProblemCode {
    MALFORMED(400, 2, "The request cannot be read", "Correct the named field or line and send it again."),
    NOT_SIGNED_IN(401, 4, "Nobody is signed in", "Sign in: tender sign-in, or the console's sign-in page."),
    WRONG_SIGN_IN(401, 4, "Name, password or code is wrong", "Check all three; after several failures wait a while."),
    CODE_NEEDED(401, 4, "A one-time code is needed", "Sign in again with the six digits from your code device."),
    NOT_FRESH(
            403,
            4,
            "This needs a fresh sign-in",
            "Prove it anew: tender operator confirm, or the console's question; then repeat within five minutes."),
    PASSWORD_CHANGE_NEEDED(403, 4, "The first password has to be changed", "Change it: tender operator password."),
    NOT_ALLOWED(403, 4, "This role may not do that", "Ask an owner."),
    NOT_FOUND(404, 1, "There is no such thing", "Check the name or list what there is."),
    LINK_OPENS_NOTHING(
            404,
            1,
            "This link and passphrase open nothing",
            "Check the passphrase letter by letter; if it is right, ask for another link."),
    CONFLICT(409, 1, "It is already there, or its state does not allow this", "See what is there, then decide."),
    KEY_NOT_HELD(
            409,
            1,
            "Tender never held this device's key",
            "Prove it on the device with tender trial run FILE, or wait for a session."),
    IDENTITY_NOT_ACCEPTED(
            409,
            1,
            "The gateway's identity has not been accepted",
            "Compare the fingerprint on the device, then accept it."),
    UNFIT(
            409,
            1,
            "It is not fit to be handed out",
            "Fix what is named; or hand it out all the same and say why: --override REASON."),
    STALE(412, 1, "It was changed meanwhile", "Read it again and repeat the change."),
    TOO_LARGE(413, 2, "The request is too large", "Send less at once."),
    VERSION_NEEDED(428, 2, "The version to be changed is missing", "Send If-Match with the version that was read."),
    TOO_MANY(429, 1, "Too many attempts", "Wait as long as Retry-After says."),
    GATEWAY_UNREACHABLE(502, 3, "The gateway does not answer", "Check that it is on and its address is right."),
    GATEWAY_REFUSED(502, 1, "The gateway refused", "See what it said and check user, key and rights there."),
    GATEWAY_IDENTITY_CHANGED(502, 1, "The gateway shows another identity", "Find out why before accepting it."),
    BUSY(503, 3, "Too much is asked for at once", "Wait as long as Retry-After says, then try again."),
    BODY_TOO_SLOW(408, 3, "The request arrives too slowly", "Send the whole request within ten seconds."),
    ENROL_NEEDED(
            403,
            4,
            "A second factor has to be set up first",
            "Set it up: tender operator code, or the console's page after signing in."),
    UNAVAILABLE(503, 3, "The service cannot do this now", "Try again in a moment; see the service's log if it lasts."),
    FAILED(500, 1, "Something went wrong inside", "See the service's log for the time of the call.");

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
