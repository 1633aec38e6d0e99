package tender.core.network;

import java.util.Locale;
import tender.core.wire.MalformedException;

/** A host name of letters, digits and hyphens, in lower case without a final dot (RFC 1123 §2.1, RFC 1035 §2.3.4). */
public record HostName(String text) implements Host {
    private static final int MAX_NAME = 253;
    private static final int MAX_LABEL = 63;

    public HostName {
        if (text.isEmpty() || text.length() > MAX_NAME) {
            throw new MalformedException("host-name", "", "a host name has 1 to 253 characters");
        }
        String[] labels = text.split("\\.", -1);
        for (String label : labels) {
            if (!label.matches("[a-z0-9]([a-z0-9-]*[a-z0-9])?") || label.length() > MAX_LABEL) {
                throw new MalformedException(
                        "host-name", "", "labels are 1 to 63 letters, digits and inner hyphens, parted by dots");
            }
        }
        if (labels[labels.length - 1].matches("[0-9]+")) {
            throw new MalformedException("host-name", "", "the last label is a number: neither a name nor an address");
        }
    }

    /**
     * A DNS name in any case, with or without the dot at its end.
     *
     * @throws MalformedException where it is none
     */
    public static HostName parse(String text) {
        String lower = text.toLowerCase(Locale.ROOT);
        return new HostName(lower.endsWith(".") ? lower.substring(0, lower.length() - 1) : lower);
    }

    @Override
    public String toString() {
        return text;
    }
}
