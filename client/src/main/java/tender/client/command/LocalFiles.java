package tender.client.command;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import tender.api.ProblemCode;
import tender.core.inspect.Inspector;

/** Files that were named on the command line, and those in folders that were. */
public final class LocalFiles {
    private static final int MAX_FILES = 2_000;
    private static final int MAX_DEPTH = 8;
    private static final long MEBIBYTE = 1024L * 1024;

    private LocalFiles() {}

    /**
     * Contents by name, of files in folders by their paths within; in the order in which they were named.
     *
     * @throws CallFailure where one cannot be read, is named twice, or all together are larger
     */
    public static Map<String, byte[]> read(List<Path> paths, long maxBytes) {
        Map<String, byte[]> files = new LinkedHashMap<>();
        for (Path path : paths) {
            if (!Files.isDirectory(path)) {
                put(path.getFileName().toString(), path, files, maxBytes);
                continue;
            }
            try (Stream<Path> inside = Files.walk(path, MAX_DEPTH)) {
                inside.filter(Files::isRegularFile)
                        .sorted()
                        .forEach(p -> put(path.relativize(p).toString(), p, files, maxBytes));
            } catch (IOException e) {
                throw CallFailure.of(ProblemCode.MALFORMED, path + " cannot be read");
            }
        }
        return files;
    }

    private static void put(String name, Path path, Map<String, byte[]> into, long maxBytes) {
        byte[] content = read(path);
        long all =
                content.length + into.values().stream().mapToLong(c -> c.length).sum();
        if (into.size() == MAX_FILES || all > maxBytes) {
            throw CallFailure.of(
                    ProblemCode.MALFORMED,
                    "more than " + MAX_FILES + " files or " + maxBytes / MEBIBYTE + " MiB at once; name fewer of them");
        }
        if (into.putIfAbsent(into.containsKey(name) ? path.toString() : name, content) != null) {
            throw CallFailure.of(ProblemCode.MALFORMED, path + " is named twice");
        }
    }

    /** The content of one file. */
    public static byte[] read(Path file) {
        try {
            if (!Files.exists(file)) {
                throw CallFailure.of(ProblemCode.MALFORMED, "there is no such file: " + file);
            }
            if (Files.size(file) > Inspector.MAX_BYTES) {
                throw CallFailure.of(ProblemCode.MALFORMED, file + " is over 32 MiB");
            }
            return Files.readAllBytes(file);
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, file + " cannot be read");
        }
    }
}
