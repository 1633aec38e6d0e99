package tender.core.office;

import java.util.Locale;

/** What only a person can do at a gateway that Tender does not write. */
public enum HandWork {
    /** Add a WireGuard peer. */
    ADMIT_PEER("add the peer"),
    /** Make an account with the password that Tender made. */
    ADMIT_ACCOUNT("create the account"),
    /** Remove a WireGuard peer. */
    CLOSE_PEER("remove the peer"),
    /** Close or remove an account, or take its VPN right away. */
    CLOSE_ACCOUNT("close the account"),
    /** Revoke a certificate that the gateway's own authority signed. */
    CLOSE_CERTIFICATE("revoke the certificate"),
    /** Give the gateway the revocation list that Tender signed. */
    UPLOAD_LIST("upload the newest revocation list, which names the certificate");

    private final String action;

    HandWork(String action) {
        this.action = action;
    }

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public static HandWork of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT).replace('-', '_'));
    }

    /** Whether it keeps somebody out, rather than letting them in. */
    public boolean closes() {
        return this != ADMIT_PEER && this != ADMIT_ACCOUNT;
    }

    /** Who is cut off by it. */
    public String cuts() {
        return closes() ? "the device that is to be kept out, and nobody else" : "nobody";
    }

    /** How Tender finds out whether it is done. */
    public String check() {
        return closes()
                ? "Tender connects with the very file: it must be refused, while another file of the listener is let in."
                : "Tender connects with the very file: it must be let in.";
    }

    /** In words: {@code to be closed at slip-nas: close the account tove}. */
    public String words(String gateway, String what) {
        return (closes() ? "to be closed at " : "to be added at ") + gateway + ": " + action + " " + what;
    }
}
