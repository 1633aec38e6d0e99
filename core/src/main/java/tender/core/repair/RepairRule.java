package tender.core.repair;

import java.util.Locale;

/** Everything that is repaired in client files, decided here once: why it is. */
public enum RepairRule {
    ENDPOINT("the file calls another place, port or transport than the listener has"),
    SERVER_CHECK("the file takes any certificate of the authority for the server's"),
    DIGEST("the listener protects packets by another digest, and answers nothing else"),
    CIPHERS("the listener accepts none of the file's ciphers"),
    COMPRESSION("the listener does not compress"),
    SUCCESSOR("current releases know this line by another name, or not at all"),
    REACH("this is what was granted"),
    DNS("these name servers were granted");

    private final String reason;

    RepairRule(String reason) {
        this.reason = reason;
    }

    public String code() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public String reason() {
        return reason;
    }
}
