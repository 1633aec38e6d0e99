package tender.core.handout;

import java.util.Locale;

/** Why a file is not fit to be handed out. Each reason alone holds it back; somebody may override it, and says why. */
public enum Unfit {
    PROFILE_WITHDRAWN("The profile is withdrawn.", "Issue a new profile."),
    PROFILE_FAILED("The profile could not be written to the gateway.", "Look at its problem, then issue it again."),
    PROFILE_NOT_WRITTEN("The profile is not on the gateway yet.", "Wait until it is ready."),
    PROFILE_EXPIRED("The profile's credential has expired.", "Renew the profile."),
    REVISION_NOT_NEWEST("This is not the profile's newest revision.", "Hand out the newest revision."),
    LISTENER_GONE("The gateway no longer has the listener.", "Issue a profile at a listener that exists."),
    LISTENER_CHANGED("The listener has changed since the file was made.", "Renew the profile."),
    LAST_TRIAL_FAILED("The last trial of this revision failed.", "Fix the cause that the trial names, then try again."),
    ENDPOINT_MISSING("The file has no endpoint.", "Set the gateway's endpoint, then renew the profile."),
    ENDPOINT_PLACEHOLDER(
            "The endpoint is placeholder text from a template.", "Set the gateway's endpoint, then renew the profile."),
    ENDPOINT_WRONG(
            "The endpoint is neither a name nor an address.", "Set the gateway's endpoint, then renew the profile."),
    ENDPOINT_PRIVATE(
            "The endpoint is a private address.", "Set the gateway's public name or address, then renew the profile."),
    ENDPOINT_UNRESOLVED(
            "The endpoint's name has no address in DNS.", "Set a name that resolves, or add it at your DNS provider."),
    DANGEROUS_UNDECIDED(
            "The file has dangerous lines or parts that cannot be read, and nobody has decided that they may stay.",
            "Remove the lines, or import the file with a decision."),
    PART_MISSING("The file needs a part that is not in it.", "Import the file together with its parts."),
    CERTIFICATE_INVALID("A certificate in the file is not valid now.", "Renew the profile."),
    CERTIFICATE_REVOKED("The file's certificate is revoked.", "Issue a new profile.");

    private final String words;
    private final String fix;

    Unfit(String words, String fix) {
        this.words = words;
        this.fix = fix;
    }

    public String code() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public String words() {
        return words;
    }

    public String fix() {
        return fix;
    }
}
