import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import java.util.zip.ZipOutputStream;

/**
 * Takes the signatures out of copies of jars, in place: {@code java scripts/Unsigned.java JAR...}. Classes of a signed jar are left out
 * of a class-data archive, and those of the TLS library are most of what a trial of a file has to load.
 */
final class Unsigned {
    public static void main(String[] jars) throws IOException {
        for (String jar : jars) {
            Path from = Path.of(jar);
            ByteArrayOutputStream fresh = new ByteArrayOutputStream();
            try (ZipInputStream in = new ZipInputStream(Files.newInputStream(from));
                    ZipOutputStream out = new ZipOutputStream(fresh)) {
                for (ZipEntry entry = in.getNextEntry(); entry != null; entry = in.getNextEntry()) {
                    if (!entry.getName().matches("META-INF/[^/]+\\.(SF|DSA|RSA|EC)")) {
                        out.putNextEntry(new ZipEntry(entry.getName()));
                        in.transferTo(out);
                    }
                }
            }
            Files.write(from, fresh.toByteArray());
        }
    }
}
