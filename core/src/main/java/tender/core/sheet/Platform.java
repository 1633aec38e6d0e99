package tender.core.sheet;

import java.util.Locale;
import tender.core.wire.MalformedException;

/** Kinds of devices whose built-in clients ask for different things in a different order. */
public enum Platform {
    WINDOWS,
    APPLE,
    ANDROID,
    LINUX;

    /** Where its clients come from: {@code windows}, {@code linux} or {@code store}. */
    String clientFrom() {
        return switch (this) {
            case WINDOWS -> "windows";
            case LINUX -> "linux";
            case APPLE, ANDROID -> "store";
        };
    }

    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /**
     * @throws MalformedException where it is not windows, apple, android or linux
     */
    public static Platform parse(String word) {
        for (Platform p : values()) {
            if (p.word().equals(word)) {
                return p;
            }
        }
        throw new MalformedException("platform", "platform", "windows, apple, android or linux");
    }

    /** From what is noted of a device: its system as free text, else its kind. */
    public static Platform of(String system, String kind) {
        String text = system.toLowerCase(Locale.ROOT);
        if (text.contains("windows")) {
            return WINDOWS;
        }
        if (text.contains("ios") || text.contains("ipad") || text.contains("mac") || text.contains("iphone")) {
            return APPLE;
        }
        if (text.contains("android")) {
            return ANDROID;
        }
        if (text.isBlank() && (kind.equals("phone") || kind.equals("tablet"))) {
            return APPLE;
        }
        return text.isBlank() ? WINDOWS : LINUX;
    }
}
