package tender.core.office;

import java.util.Locale;
import tender.core.wire.MalformedException;

/** Which way an interface of a gateway faces. */
public enum Side {
    OUTSIDE,
    INSIDE,
    TUNNEL;

    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /**
     * @throws MalformedException where it is not outside, inside or tunnel
     */
    public static Side parse(String text) {
        for (Side side : values()) {
            if (side.word().equals(text)) {
                return side;
            }
        }
        throw new MalformedException("side", "", "outside, inside or tunnel");
    }
}
