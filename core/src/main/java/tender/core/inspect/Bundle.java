package tender.core.inspect;

import java.io.ByteArrayInputStream;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.zip.GZIPInputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import tender.core.wire.Budget;
import tender.core.wire.MalformedException;

/**
 * Reads zip and tar archives in memory, tar also packed by gzip; nothing is ever written to disk. Entries that lead outside,
 * links and devices are never read; whoever takes an archive over refuses it whole for them, whoever looks into it is told of
 * them beside the rest.
 */
public final class Bundle {
    public static final int MAX_FILES = 2_000;
    public static final int MAX_FILE_BYTES = 8 * 1024 * 1024;
    public static final int MAX_TOTAL_BYTES = 32 * 1024 * 1024;
    private static final int BLOCK = 512;
    private static final int MAX_PATH = 400;
    private static final int MAX_REFUSED = 50;
    private static final int MAGIC = 257;

    /** What is wrong with an entry, or with the archive. */
    public enum Fault {
        /** An entry leads outside the folder that it is unpacked to, or is a link or a device. */
        ESCAPES("escapes"),
        /** It unpacks to more than is read. */
        SWELLS("too-large"),
        LOCKED("locked"),
        DAMAGED("archive");

        private final String code;

        Fault(String code) {
            this.code = code;
        }
    }

    /** An entry that was not read: which, and why. */
    public record Refused(Fault fault, String entry, String what) {
        MalformedException thrown() {
            return new MalformedException(fault.code, entry, what);
        }
    }

    /** What an archive holds, and what of it was not read. */
    public record Contents(Map<String, byte[]> files, List<Refused> refused) {}

    private final Map<String, byte[]> files = new LinkedHashMap<>();
    private final List<Refused> refused = new ArrayList<>();
    private long total;
    private int entries;

    private final Budget budget;

    private Bundle(Budget budget) {
        this.budget = budget;
    }

    /** Whether bytes begin as an archive does. */
    public static boolean looksLike(byte[] content) {
        return isZip(content) || isGzip(content) || isTar(content);
    }

    private static boolean isZip(byte[] content) {
        return content.length > 21 && content[0] == 'P' && content[1] == 'K' && content[2] <= 8;
    }

    private static boolean isGzip(byte[] content) {
        return content.length > 18 && (content[0] & 0xff) == 0x1f && (content[1] & 0xff) == 0x8b;
    }

    private static boolean isTar(byte[] content) {
        return content.length >= BLOCK && text(content, MAGIC, 5).equals("ustar");
    }

    /** Files by their path in the archive. */
    public static Map<String, byte[]> read(byte[] archive) {
        return read(archive, new Budget());
    }

    /**
     * Files by their path in the archive, all or none.
     *
     * @param budget pays for every entry and all that is unpacked, kept or not
     */
    public static Map<String, byte[]> read(byte[] archive, Budget budget) {
        Contents contents = look(archive, budget);
        if (!contents.refused().isEmpty()) {
            throw contents.refused().get(0).thrown();
        }
        return contents.files();
    }

    /** What can be read of an archive, and what not. */
    public static Contents look(byte[] archive, Budget budget) {
        Bundle bundle = new Bundle(budget);
        try {
            if (isZip(archive)) {
                bundle.zip(archive);
            } else if (isTar(archive)) {
                bundle.tar(bundle.paid(new ByteArrayInputStream(archive)));
            } else {
                bundle.tar(bundle.paid(new GZIPInputStream(new ByteArrayInputStream(archive))));
            }
        } catch (MalformedException e) {
            bundle.refuse(e.code().equals("too-large") ? Fault.SWELLS : Fault.DAMAGED, e.place(), e.what());
        } catch (IOException | IllegalArgumentException e) {
            boolean locked = String.valueOf(e.getMessage()).contains("encrypted");
            bundle.refuse(
                    locked ? Fault.LOCKED : Fault.DAMAGED,
                    "",
                    locked ? "the archive is encrypted" : "the archive is damaged");
        }
        return new Contents(bundle.files, List.copyOf(bundle.refused));
    }

    private void refuse(Fault fault, String entry, String what) {
        if (refused.size() < MAX_REFUSED) {
            refused.add(new Refused(fault, entry, what));
        }
    }

    private void zip(byte[] archive) throws IOException {
        Set<String> special = ZipDirectory.special(archive);
        // names that are no UTF-8 and say so nowhere hide nothing when they are read as bytes
        try (ZipInputStream zip = new ZipInputStream(new ByteArrayInputStream(archive), StandardCharsets.ISO_8859_1)) {
            for (ZipEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
                budget.entry();
                entries++;
                byte[] content = paid(zip).readNBytes(MAX_FILE_BYTES + 1);
                if (special.contains(entry.getName())) {
                    refuse(Fault.ESCAPES, place(), "is a link or a device, which is not read");
                } else if (!entry.isDirectory()) {
                    put(entry.getName(), content);
                } else if (content.length > 0) {
                    refuse(Fault.DAMAGED, place(), "is a folder that holds bytes");
                } else {
                    isInside(entry.getName());
                }
            }
        }
        if (entries == 0 || ZipDirectory.end(archive) < 0) {
            refuse(Fault.DAMAGED, "", "the archive is empty or cut off");
        }
    }

    private String place() {
        return "entry " + entries;
    }

    /** POSIX tar (IEEE 1003.1 ustar), with the long names that GNU's and pax's forms add. */
    private void tar(InputStream in) throws IOException {
        String longName = null;
        byte[] header = in.readNBytes(BLOCK);
        if (isText(header)) {
            byte[] rest = in.readNBytes(MAX_FILE_BYTES);
            single(header, rest);
            return;
        }
        while (header.length == BLOCK && header[0] != 0) {
            budget.entry();
            entries++;
            long size = number(header, 124, 12);
            if (size < 0 || size > MAX_FILE_BYTES) {
                throw tooLarge();
            }
            byte[] content = in.readNBytes((int) size);
            in.skipNBytes((BLOCK - size % BLOCK) % BLOCK);
            char type = (char) header[156];
            String name = longName != null ? longName : name(header);
            switch (type) {
                case '0', '\0' -> put(name, content);
                case '5' -> isInside(name);
                case 'L', 'x', 'g', 'K' -> {
                    // tells of the next entry
                }
                default -> refuse(Fault.ESCAPES, place(), "is a link or a device, which is not read");
            }
            longName = switch (type) {
                case 'L' -> text(content, 0, content.length);
                case 'x' -> paxPath(content, longName);
                case 'g', 'K' -> longName;
                default -> null;
            };
            header = in.readNBytes(BLOCK);
        }
    }

    /** One file that was packed alone. */
    private void single(byte[] first, byte[] rest) {
        if (first.length == 0) {
            throw new MalformedException("archive", "", "the archive is empty");
        }
        byte[] all = Arrays.copyOf(first, first.length + rest.length);
        System.arraycopy(rest, 0, all, first.length, rest.length);
        put("packed", all);
    }

    /** A header of tar has bytes that no text has. */
    private static boolean isText(byte[] block) {
        for (byte b : block) {
            if (b == 0) {
                return false;
            }
        }
        return true;
    }

    /** The same bytes, each paid for as it is unpacked. */
    private InputStream paid(InputStream in) {
        return new FilterInputStream(in) {
            @Override
            public int read() throws IOException {
                int b = super.read();
                budget.bytes(b < 0 ? 0 : 1);
                return b;
            }

            @Override
            public int read(byte[] into, int offset, int length) throws IOException {
                int count = super.read(into, offset, length);
                budget.bytes(Math.max(count, 0));
                return count;
            }

            @Override
            public long skip(long count) throws IOException {
                return read(new byte[(int) Math.min(count, BLOCK)], 0, (int) Math.min(count, BLOCK));
            }

            @Override
            public void close() {
                // the archive goes on after an entry
            }
        };
    }

    private static String name(byte[] header) {
        String prefix = text(header, MAGIC, 5).equals("ustar") ? text(header, 345, 155) : "";
        String name = text(header, 0, 100);
        return prefix.isEmpty() ? name : prefix + "/" + name;
    }

    private static String paxPath(byte[] content, String otherwise) {
        for (String line : new String(content, StandardCharsets.UTF_8).split("\n")) {
            int at = line.indexOf(" path=");
            if (at > 0) {
                return line.substring(at + 6);
            }
        }
        return otherwise;
    }

    private static String text(byte[] bytes, int from, int length) {
        int end = from;
        while (end < from + length && bytes[end] != 0) {
            end++;
        }
        return new String(bytes, from, end - from, StandardCharsets.UTF_8);
    }

    private static long number(byte[] header, int from, int length) {
        String digits = text(header, from, length).strip();
        if (!digits.matches("[0-7]{1,12}")) {
            throw new MalformedException("archive", "", "the archive is damaged");
        }
        return Long.parseLong(digits, 8);
    }

    private void put(String path, byte[] content) {
        total += content.length;
        if (files.size() >= MAX_FILES || content.length > MAX_FILE_BYTES || total > MAX_TOTAL_BYTES) {
            throw tooLarge();
        }
        if (!isInside(path)) {
            return;
        }
        String name = path.startsWith("./") ? path.substring(2) : path;
        if (files.containsKey(name)) {
            refuse(Fault.DAMAGED, place(), "the same path twice");
            return;
        }
        files.put(name, content);
    }

    private boolean isInside(String path) {
        boolean outside = path.startsWith("/")
                || path.matches("[A-Za-z]:.*")
                || path.contains("\\")
                || path.equals("..")
                || path.startsWith("../")
                || path.contains("/../")
                || path.endsWith("/..");
        boolean inside = !path.isEmpty()
                && path.length() <= MAX_PATH
                && !outside
                && path.chars().noneMatch(Character::isISOControl);
        if (!inside) {
            refuse(Fault.ESCAPES, place(), "has a path that could lead outside");
        }
        return inside;
    }

    private static MalformedException tooLarge() {
        return new MalformedException(
                "too-large", "", "more than is read: " + MAX_FILES + " files, 8 MiB a file, 32 MiB in all");
    }
}
