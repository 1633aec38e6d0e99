package tender.core.inspect;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.zip.GZIPOutputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.wire.Budget;
import tender.core.wire.MalformedException;

class BundleTest {
    private static byte[] zip(String name, byte[] content) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            zip.putNextEntry(new ZipEntry(name));
            zip.write(content);
        }
        return out.toByteArray();
    }

    /** One tar entry of a type, compressed. */
    private static byte[] tar(String name, char type, byte[] content, String size) throws IOException {
        byte[] header = new byte[512];
        System.arraycopy(name.getBytes(StandardCharsets.UTF_8), 0, header, 0, name.length());
        System.arraycopy(size.getBytes(StandardCharsets.US_ASCII), 0, header, 124, size.length());
        header[156] = (byte) type;
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (GZIPOutputStream zip = new GZIPOutputStream(out)) {
            zip.write(header);
            zip.write(content);
            zip.write(new byte[(512 - content.length % 512) % 512]);
            zip.write(new byte[1024]);
        }
        return out.toByteArray();
    }

    @ParameterizedTest
    @ValueSource(strings = {"../up", "/etc/passwd", "a/../../b", "C:\\x", "a\\..\\b", "..", "a/..", "bell\u0007.txt"})
    void pathsThatLeadOutsideAreRefused(String path) throws IOException {
        byte[] archive = zip(path, new byte[] {1});

        assertThatThrownBy(() -> Bundle.read(archive))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("could lead outside");
    }

    @ParameterizedTest
    @ValueSource(chars = {'1', '2', '3', '4', '6', '7'})
    void linksAndDevicesAreRefused(char type) throws IOException {
        byte[] archive = tar("x", type, new byte[0], "00000000000");

        assertThatThrownBy(() -> Bundle.read(archive)).hasMessageContaining("a link or a device");
    }

    @ParameterizedTest
    @ValueSource(strings = {"77777777777", "-0000000001", "9", "zzzzzzzzzzz", ""})
    void sizesThatLieAreRefused(String size) throws IOException {
        byte[] archive = tar("x", '0', new byte[10], size);

        assertThatThrownBy(() -> Bundle.read(archive)).isInstanceOf(MalformedException.class);
    }

    @Test
    void aBombIsRefusedBeforeItUnfolds() throws IOException {
        byte[] bomb = zip("zeros", new byte[Bundle.MAX_FILE_BYTES + 1]);
        assertThat(bomb.length).isLessThan(20_000);

        assertThatThrownBy(() -> Bundle.read(bomb)).hasMessageContaining("more than is read");
    }

    @Test
    void tooManyFilesAreRefusedAndTheSamePathTwiceToo() throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            for (int i = 0; i <= Bundle.MAX_FILES; i++) {
                zip.putNextEntry(new ZipEntry("f" + i));
            }
        }
        assertThatThrownBy(() -> Bundle.read(out.toByteArray())).hasMessageContaining("more than is read");
        ByteArrayOutputStream twice = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(twice)) {
            zip.putNextEntry(new ZipEntry("a"));
            zip.putNextEntry(new ZipEntry("./a"));
        }
        assertThatThrownBy(() -> Bundle.read(twice.toByteArray())).hasMessageContaining("twice");
    }

    @Test
    void longNamesOfTarAreRead() throws IOException {
        String path = "folder/".repeat(20) + "office.ovpn";
        byte[] archive = longName(path, "remote x 1\n".getBytes(StandardCharsets.UTF_8));

        Map<String, byte[]> files = Bundle.read(archive);

        assertThat(files).containsOnlyKeys(path);
        assertThat(new String(files.get(path), StandardCharsets.UTF_8)).isEqualTo("remote x 1\n");
    }

    private static byte[] longName(String path, byte[] content) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (GZIPOutputStream zip = new GZIPOutputStream(out)) {
            entry(zip, 'L', "././@LongLink", path.getBytes(StandardCharsets.UTF_8));
            entry(zip, '0', path.substring(0, 99), content);
            zip.write(new byte[1024]);
        }
        return out.toByteArray();
    }

    private static void entry(GZIPOutputStream out, char type, String name, byte[] content) throws IOException {
        byte[] header = new byte[512];
        System.arraycopy(name.getBytes(StandardCharsets.UTF_8), 0, header, 0, Math.min(99, name.length()));
        System.arraycopy(
                String.format("%011o", content.length).getBytes(StandardCharsets.US_ASCII), 0, header, 124, 11);
        header[156] = (byte) type;
        out.write(header);
        out.write(content);
        out.write(new byte[(512 - content.length % 512) % 512]);
    }

    @Test
    void moreInAllThanIsReadIsRefusedAlthoughEachFileIsSmall() throws IOException {
        for (int files : new int[] {4, 5}) {
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            try (ZipOutputStream zip = new ZipOutputStream(out)) {
                for (int i = 0; i < files; i++) {
                    zip.putNextEntry(new ZipEntry("f" + i));
                    zip.write(new byte[Bundle.MAX_FILE_BYTES]);
                }
            }
            if (files == 4) {
                assertThat(Bundle.read(out.toByteArray())).hasSize(4);
            } else {
                assertThatThrownBy(() -> Bundle.read(out.toByteArray())).hasMessageContaining("32 MiB in all");
            }
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"C:/x", "z:evil"})
    void pathsWithADriveAreRefused(String path) throws IOException {
        byte[] archive = zip(path, new byte[] {1});
        assertThatThrownBy(() -> Bundle.read(archive)).hasMessageContaining("could lead outside");
    }

    @Test
    void thePrefixOfALongTarPathIsRead() throws IOException {
        byte[] header = new byte[512];
        put(header, 0, "office.ovpn");
        put(header, 124, "00000000001");
        put(header, 257, "ustar");
        put(header, 345, "clients/of/the/pier");
        header[156] = '0';
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (GZIPOutputStream zip = new GZIPOutputStream(out)) {
            zip.write(header);
            zip.write(new byte[512 + 1024]);
        }
        assertThat(Bundle.read(out.toByteArray())).containsOnlyKeys("clients/of/the/pier/office.ovpn");
    }

    private static void put(byte[] into, int at, String text) {
        byte[] bytes = text.getBytes(StandardCharsets.US_ASCII);
        System.arraycopy(bytes, 0, into, at, bytes.length);
    }

    /** Entries that are not kept cost as well. */
    @Test
    void oneBudgetPaysForEverythingThatIsUnpacked() throws IOException {
        byte[] archive = zip("a", new byte[1_000_000]);
        Budget budget = new Budget(2_500_000, 10, 1_000, java.time.Duration.ofSeconds(10));
        Bundle.read(archive, budget);
        Bundle.read(archive, budget);
        assertThatThrownBy(() -> Bundle.read(archive, budget)).hasMessageContaining("in all");

        byte[] names = tar("x", 'L', new byte[900_000], "00003335640");
        assertThatThrownBy(() -> Bundle.read(names, new Budget(500_000, 10, 1_000, java.time.Duration.ofSeconds(10))))
                .hasMessageContaining("in all");
        Budget three = new Budget(1 << 30, 3, 1_000, java.time.Duration.ofSeconds(10));
        Bundle.read(archive, three);
        Bundle.read(archive, three);
        Bundle.read(archive, three);
        assertThatThrownBy(() -> Bundle.read(archive, three)).hasMessageContaining("more entries");
        Budget late = new Budget(1 << 30, 10, 1_000, java.time.Duration.ZERO);
        assertThatThrownBy(() -> Bundle.read(archive, late)).hasMessageContaining("takes longer");
        Budget rounds = new Budget(1, 1, 1_000, java.time.Duration.ofSeconds(10));
        rounds.rounds(1_000);
        assertThatThrownBy(() -> rounds.rounds(1)).hasMessageContaining("rounds");
    }
}
