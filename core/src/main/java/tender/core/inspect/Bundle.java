package tender.core.inspect;

import java.io.ByteArrayInputStream;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.zip.GZIPInputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import tender.core.wire.Budget;
import tender.core.wire.MalformedException;

/**
 * Reads zip and tar.gz archives in memory. Paths that lead outside, links, devices, and archives beyond the limits are
 * refused whole; nothing is ever written to disk.
 */
public final class Bundle {
    public static final int MAX_FILES = 2_000;
    public static final int MAX_FILE_BYTES = 8 * 1024 * 1024;
    public static final int MAX_TOTAL_BYTES = 32 * 1024 * 1024;
    private static final int BLOCK = 512;
    private static final int MAX_PATH = 400;

    private final Map<String, byte[]> files = new LinkedHashMap<>();
    private long total;

    private final Budget budget;

    private Bundle(Budget budget) {
        this.budget = budget;
    }

    /** Whether bytes begin as a zip or gzip archive does. */
    public static boolean looksLike(byte[] content) {
        return isZip(content) || content.length > 18 && (content[0] & 0xff) == 0x1f && (content[1] & 0xff) == 0x8b;
    }

    private static boolean isZip(byte[] content) {
        return content.length > 22 && content[0] == 'P' && content[1] == 'K' && content[2] <= 8;
    }

    /** Files by their path in the archive. */
    public static Map<String, byte[]> read(byte[] archive) {
        return read(archive, new Budget());
    }

    /** @param budget pays for every entry and all that is unpacked, kept or not */
    public static Map<String, byte[]> read(byte[] archive, Budget budget) {
        Bundle bundle = new Bundle(budget);
        try {
            if (isZip(archive)) {
                bundle.zip(archive);
            } else {
                bundle.tar(bundle.paid(new GZIPInputStream(new ByteArrayInputStream(archive))));
            }
        } catch (IOException | IllegalArgumentException e) {
            throw new MalformedException("archive", "", "the archive is damaged");
        }
        return bundle.files;
    }

    private void zip(byte[] archive) throws IOException {
        try (ZipInputStream zip = new ZipInputStream(new ByteArrayInputStream(archive))) {
            for (ZipEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
                budget.entry();
                byte[] content = paid(zip).readNBytes(MAX_FILE_BYTES + 1);
                if (!entry.isDirectory()) {
                    put(entry.getName(), content);
                } else if (content.length > 0) {
                    throw new MalformedException("archive", entry.getName(), "is a folder that holds bytes");
                }
            }
        }
    }

    /** POSIX tar (IEEE 1003.1 ustar), with the long names that GNU's and pax's forms add. */
    private void tar(InputStream in) throws IOException {
        String longName = null;
        byte[] header = in.readNBytes(BLOCK);
        while (header.length == BLOCK && header[0] != 0) {
            budget.entry();
            long size = number(header, 124, 12);
            if (size < 0 || size > MAX_FILE_BYTES) {
                throw tooLarge();
            }
            byte[] content = in.readNBytes((int) size);
            in.skipNBytes((BLOCK - size % BLOCK) % BLOCK);
            char type = (char) header[156];
            switch (type) {
                case '0', '\0' -> {
                    put(longName != null ? longName : name(header), content);
                    longName = null;
                }
                case 'L' -> longName = text(content, 0, content.length);
                case 'x' -> longName = paxPath(content, longName);
                case '5', 'g' -> longName = null;
                default ->
                    throw new MalformedException(
                            "archive", "entry " + (files.size() + 1), "holds a link or a device, which is not read");
            }
            header = in.readNBytes(BLOCK);
        }
        if (header.length != BLOCK && files.isEmpty()) {
            throw new MalformedException("archive", "", "no tar archive is inside");
        }
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
        String prefix = text(header, 257, 5).equals("ustar") ? text(header, 345, 155) : "";
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
        boolean outside = path.startsWith("/")
                || path.matches("[A-Za-z]:.*")
                || path.contains("\\")
                || path.equals("..")
                || path.startsWith("../")
                || path.contains("/../")
                || path.endsWith("/..");
        if (path.isEmpty()
                || path.length() > MAX_PATH
                || outside
                || path.chars().anyMatch(Character::isISOControl)) {
            throw new MalformedException(
                    "archive", "entry " + (files.size() + 1), "has a path that could lead outside");
        }
        total += content.length;
        if (files.size() >= MAX_FILES || content.length > MAX_FILE_BYTES || total > MAX_TOTAL_BYTES) {
            throw tooLarge();
        }
        if (files.put(path.startsWith("./") ? path.substring(2) : path, content) != null) {
            throw new MalformedException("archive", "entry " + (files.size() + 1), "the same path twice");
        }
    }

    private static MalformedException tooLarge() {
        return new MalformedException(
                "too-large", "", "more than is read: " + MAX_FILES + " files, 8 MiB a file, 32 MiB in all");
    }
}
