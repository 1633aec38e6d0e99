package tender.core.network;

import tender.core.wire.MalformedException;

/** A transport port that can be dialled: 1 to 65535. */
public record Port(int number) {
    public Port {
        if (number < 1 || number > 65535) {
            throw new MalformedException("port", "", "a port is a number from 1 to 65535");
        }
    }

    public static Port parse(String text) {
        if (!text.matches("[1-9][0-9]{0,4}")) {
            throw new MalformedException("port", "", "a port is a number from 1 to 65535");
        }
        return new Port(Integer.parseInt(text));
    }

    @Override
    public String toString() {
        return Integer.toString(number);
    }
}
