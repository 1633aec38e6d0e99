package tender.core.backup;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.HexFormat;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import java.util.zip.ZipOutputStream;
import tender.core.wire.MalformedException;
import tender.core.wire.Sha256;

/** The files of one gateway at one moment, by path. The digest covers paths and contents, not the archive's form. */
public record Snapshot(SortedMap<String, byte[]> files) {
    public static final int MAX_FILES = 1_000;
    public static final int MAX_TOTAL_BYTES = 64 * 1024 * 1024;
    private static final String MANIFEST = "MANIFEST";

    public Snapshot {
        files = java.util.Collections.unmodifiableSortedMap(new TreeMap<>(files));
    }

    public String digest() {
        MessageDigest digest = Sha256.engine();
        files.forEach((path, content) -> {
            digest.update((path + "\0" + content.length + "\0").getBytes(StandardCharsets.UTF_8));
            digest.update(content);
        });
        return HexFormat.of().formatHex(digest.digest());
    }

    /** Bytes of all files together. */
    public long size() {
        return files.values().stream().mapToLong(f -> f.length).sum();
    }

    /** A zip with the files and a manifest of their sizes and SHA-256 digests; equal snapshots give equal bytes. */
    public byte[] toZip() {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        StringBuilder manifest = new StringBuilder("# sha-256, bytes, path\n");
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            for (Map.Entry<String, byte[]> file : files.entrySet()) {
                put(zip, file.getKey(), file.getValue());
                manifest.append(Sha256.hex(file.getValue()))
                        .append('\t')
                        .append(file.getValue().length)
                        .append('\t')
                        .append(file.getKey())
                        .append('\n');
            }
            put(zip, MANIFEST, manifest.toString().getBytes(StandardCharsets.UTF_8));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }

    private static void put(ZipOutputStream zip, String name, byte[] content) throws IOException {
        ZipEntry entry = new ZipEntry(name);
        entry.setTime(0);
        zip.putNextEntry(entry);
        zip.write(content);
        zip.closeEntry();
    }

    /** Reads {@link #toZip()}; refuses parent or absolute paths, doubled names, and anything beyond the limits. */
    public static Snapshot ofZip(byte[] archive) {
        TreeMap<String, byte[]> files = new TreeMap<>();
        long total = 0;
        try (ZipInputStream zip = new ZipInputStream(new ByteArrayInputStream(archive))) {
            for (ZipEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
                String name = entry.getName();
                if (name.startsWith("/") || name.contains("..") || name.contains("\\") || entry.isDirectory()) {
                    throw new MalformedException(
                            "archive", "entry " + (files.size() + 1), "a path that could lead outside");
                }
                byte[] content = zip.readNBytes((int) (MAX_TOTAL_BYTES - total + 1));
                total += content.length;
                if (files.size() >= MAX_FILES || total > MAX_TOTAL_BYTES) {
                    throw new MalformedException(
                            "too-large", "entry " + (files.size() + 1), "more than a backup may hold");
                }
                if (files.put(name, content) != null) {
                    throw new MalformedException("archive", "entry " + (files.size() + 1), "the same path twice");
                }
            }
        } catch (IOException | IllegalArgumentException e) {
            throw new MalformedException("archive", "", "not a readable zip archive");
        }
        files.remove(MANIFEST);
        return new Snapshot(files);
    }
}
