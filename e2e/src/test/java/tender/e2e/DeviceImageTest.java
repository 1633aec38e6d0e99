package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.standins.office.SmallOffice;

/** The client with a Java of its own, in a root folder that has a shell and the C library and nothing else. */
class DeviceImageTest {
    private static final long MOST_BYTES = 60L * 1_000 * 1_000;
    private static final List<String> PROGRAMS =
            List.of("/bin/sh", "/usr/bin/dirname", "/usr/bin/readlink", "/usr/bin/env");

    @TempDir
    Path folder;

    private Path root;

    @Test
    void aDeviceWithoutJavaJoinsAndKeepsItselfCurrent() throws Exception {
        boolean isRoot = Shell.run("id", "-u").out().strip().equals("0");
        if (!isRoot || !Shell.has("jlink") || !Shell.has("unshare")) {
            System.out.println("skipped: a root folder without Java needs root, jlink and unshare");
        }
        assumeTrue(isRoot && Shell.has("jlink") && Shell.has("unshare"));
        root = folder.resolve("root");
        Path image = root.resolve("opt/tender");
        Shell.Result built = Shell.run(
                Map.of(),
                Duration.ofMinutes(3),
                List.of(Shell.ROOT.resolve("scripts/device-image").toString(), image.toString()));
        assertThat(built.code()).as(built.out()).isZero();
        assertThat(size(image)).as("bytes of the image").isLessThan(MOST_BYTES);
        minimal(image);

        try (SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.113.1");
                Tender tender = new Tender(folder, office)) {
            tender.addRouter(office, "mara", "laptop");
            String staff = Files.readAllLines(folder.resolve("data/address")).get(1);
            String signer = tender.client(
                            "provision",
                            "create",
                            "mara/laptop",
                            "--gateway",
                            "pier2",
                            "--service",
                            staff,
                            "--out",
                            root.resolve("tmp").toString())
                    .replaceAll("(?s).*signer +(SHA256:\\S+).*", "$1");
            String resolver = "127.0.0.1:" + office.names().port();
            assertThat(inside("which-java").code()).isNotZero();
            Shell.Result joined = inside(
                    "/opt/tender/bin/tender",
                    "device",
                    "join",
                    "/tmp/mara-laptop.tender",
                    "--signer",
                    signer,
                    "--folder",
                    "/tmp/profiles",
                    "--resolver",
                    resolver);
            assertThat(joined.code()).as(joined.out()).isZero();
            assertThat(joined.out()).contains("connects; use this one");
            tender.client("profile", "renew", "mara-laptop-pier2");
            Shell.until(
                    "the newest revision to be there",
                    Duration.ofSeconds(30),
                    () -> inside("/opt/tender/bin/tender", "device", "keep", "--resolver", resolver)
                            .out()
                            .contains("revision 2"));
            assertThat(Files.readString(root.resolve("tmp/profiles/mara-la-pi2.conf")))
                    .contains("PrivateKey");

            long began = System.nanoTime();
            inside("/opt/tender/bin/tender", "device", "status");
            System.out.printf(
                    "measured: the image has %d MB; tender device status takes %d ms with it%n",
                    size(image) / 1_000_000, (System.nanoTime() - began) / 1_000_000);
        }
    }

    private Shell.Result inside(String... command) {
        // mounts of its own, which end with it: every container has /proc
        List<String> all = new ArrayList<>(List.of(
                "env",
                "-i",
                "PATH=/usr/bin:/bin:/usr/sbin:/sbin",
                "COLUMNS=300",
                "HOME=/tmp",
                "TENDER_CONFIG=/tmp/config",
                "unshare",
                "--mount",
                "sh",
                "-c",
                "mount -t proc proc \"$0/proc\" && exec chroot \"$0\" \"$@\"",
                root.toString()));
        all.addAll(List.of(command));
        return Shell.run(Map.of(), Duration.ofSeconds(90), all);
    }

    /** A shell, what the start script calls, and the libraries that these and the image's own Java need. */
    private void minimal(Path image) throws IOException {
        Files.createDirectories(root.resolve("tmp"));
        Files.createDirectories(root.resolve("proc"));
        List<String> wanted = new ArrayList<>(PROGRAMS);
        wanted.add(image.resolve("bin/java").toString());
        try (Stream<Path> own = Files.walk(image.resolve("lib"))) {
            own.filter(p -> p.toString().endsWith(".so")).map(Path::toString).forEach(wanted::add);
        }
        for (String program : wanted) {
            if (!program.startsWith(image.toString())) {
                copy(program);
            }
            Shell.run("ldd", program).out().lines().map(String::strip).forEach(line -> {
                String library =
                        line.contains("=> /") ? line.replaceAll(".*=> (\\S+).*", "$1") : line.replaceAll(" .*", "");
                if (library.startsWith("/") && !library.startsWith(image.toString())) {
                    copy(library);
                }
            });
        }
    }

    private void copy(String file) {
        try {
            Path target = root.resolve(file.substring(1));
            Files.createDirectories(target.getParent());
            Files.copy(Path.of(file).toRealPath(), target, StandardCopyOption.REPLACE_EXISTING);
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private static long size(Path folder) throws IOException {
        try (Stream<Path> all = Files.walk(folder)) {
            return all.filter(Files::isRegularFile)
                    .mapToLong(p -> p.toFile().length())
                    .sum();
        }
    }
}
