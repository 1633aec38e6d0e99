package tender.core.inspect;

import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.HashSet;
import java.util.Set;

/** The directory at the end of a zip archive, which alone tells what kind of thing an entry is. */
final class ZipDirectory {
    private static final int END = 0x06054b50;
    private static final int ENTRY = 0x02014b50;
    private static final int END_BYTES = 22;
    private static final int MAX_COMMENT = 65_535;
    private static final int UNIX = 3;
    private static final int KIND = 0xf000;
    private static final int FILE = 0x8000;
    private static final int FOLDER = 0x4000;
    private static final int UTF8 = 1 << 11;

    private ZipDirectory() {}

    /** Where the directory ends; below 0 where the archive has none, and so is cut off. */
    static int end(byte[] archive) {
        ByteBuffer in = ByteBuffer.wrap(archive).order(ByteOrder.LITTLE_ENDIAN);
        int end = archive.length - END_BYTES;
        int first = Math.max(0, end - MAX_COMMENT);
        while (end >= first && in.getInt(end) != END) {
            end--;
        }
        return end < first ? -1 : end;
    }

    /** Names of the entries that are neither files nor folders, such as links. */
    static Set<String> special(byte[] archive) {
        Set<String> out = new HashSet<>();
        ByteBuffer in = ByteBuffer.wrap(archive).order(ByteOrder.LITTLE_ENDIAN);
        int end = end(archive);
        if (end < 0) {
            return out;
        }
        try {
            in.position(in.getInt(end + 16));
            while (in.position() < end && in.getInt(in.position()) == ENTRY) {
                int at = in.position();
                int names = Short.toUnsignedInt(in.getShort(at + 28));
                int extra = Short.toUnsignedInt(in.getShort(at + 30));
                int comment = Short.toUnsignedInt(in.getShort(at + 32));
                int kind = in.getInt(at + 38) >>> 16 & KIND;
                boolean unix = in.get(at + 5) == UNIX;
                if (unix && kind != 0 && kind != FILE && kind != FOLDER) {
                    Charset charset =
                            (in.getShort(at + 8) & UTF8) != 0 ? StandardCharsets.UTF_8 : StandardCharsets.ISO_8859_1;
                    out.add(new String(archive, at + 46, names, charset));
                }
                in.position(at + 46 + names + extra + comment);
            }
        } catch (IllegalArgumentException | IndexOutOfBoundsException | BufferUnderflowException e) {
            return out; // a damaged directory tells of no more; the entries themselves are read from the front
        }
        return out;
    }
}
