package tender.core.wire;

/** Reads a byte array front to back; every read passes one bounds check. */
public final class ByteCursor {
    private final byte[] bytes;
    private int position;

    public ByteCursor(byte[] bytes) {
        this.bytes = bytes;
    }

    public int remaining() {
        return bytes.length - position;
    }

    public int position() {
        return position;
    }

    public int u8() {
        return bytes[take(1)] & 0xff;
    }

    /** Two bytes, most significant first. */
    public int u16() {
        int at = take(2);
        return (bytes[at] & 0xff) << 8 | bytes[at + 1] & 0xff;
    }

    /** Four bytes, least significant first. */
    public int i32LittleEndian() {
        int at = take(4);
        return bytes[at] & 0xff
                | (bytes[at + 1] & 0xff) << 8
                | (bytes[at + 2] & 0xff) << 16
                | (bytes[at + 3] & 0xff) << 24;
    }

    /** Eight bytes, least significant first. */
    public long i64LittleEndian() {
        return i32LittleEndian() & 0xffffffffL | (long) i32LittleEndian() << 32;
    }

    public byte[] bytes(int length) {
        int at = take(length);
        byte[] out = new byte[length];
        System.arraycopy(bytes, at, out, 0, length);
        return out;
    }

    public byte[] rest() {
        return bytes(remaining());
    }

    public void skip(int length) {
        take(length);
    }

    public void end() {
        if (remaining() != 0) {
            throw new MalformedException("trailing-bytes", "offset " + position, remaining() + " bytes too many");
        }
    }

    private int take(int length) {
        if (length < 0 || length > remaining()) {
            throw new MalformedException(
                    "too-short", "offset " + position, length + " bytes wanted, " + remaining() + " left");
        }
        int at = position;
        position += length;
        return at;
    }
}
