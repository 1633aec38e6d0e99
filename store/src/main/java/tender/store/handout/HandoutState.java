package tender.store.handout;

import java.util.Locale;

/** How far a handout is; worked out from its times. */
public enum HandoutState {
    PREPARED,
    SENT,
    COLLECTED,
    /** Somebody is connected with what was collected, or was. */
    IN_USE,
    EXPIRED,
    WITHDRAWN;

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    /** @throws IllegalArgumentException where there is no such state */
    static HandoutState of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT).replace(' ', '_'));
    }
}
