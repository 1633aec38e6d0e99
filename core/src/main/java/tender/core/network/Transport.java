package tender.core.network;

import java.util.Locale;

/** What carries a listener's packets. */
public enum Transport {
    UDP,
    TCP;

    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
