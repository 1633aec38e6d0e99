package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** What ships is named with its licence. */
class LicencesTest {
    private static final String OURS = "(api|client|console|core|io|service|standins|store|picocli17)-0\\.1\\.0\\.jar";

    @Test
    void everyJarThatShipsIsNamedWithVersionAndLicence() throws Exception {
        List<String> named = Files.readAllLines(Shell.ROOT.resolve("THIRD-PARTY.md"));
        assertThat(named).noneMatch(line -> line.contains("not declared"));
        List<String> missing = new ArrayList<>();
        for (String module : List.of("service", "client", "standins")) {
            try (Stream<Path> jars = Files.list(Shell.ROOT.resolve(module).resolve("target/lib"))) {
                jars.map(jar -> jar.getFileName().toString())
                        .filter(jar -> !jar.matches(OURS))
                        .filter(jar -> named.stream().noneMatch(line -> isOf(line, jar)))
                        .forEach(missing::add);
            }
        }
        assertThat(missing).as("run scripts/third-party").isEmpty();
        assertThat(Files.readString(Shell.ROOT.resolve("LICENSE"))).contains("Apache License");
    }

    private static boolean isOf(String line, String jar) {
        String[] cells = line.split(" *\\| *");
        return cells.length > 3 && jar.equals(cells[1] + "-" + cells[2] + ".jar");
    }
}
