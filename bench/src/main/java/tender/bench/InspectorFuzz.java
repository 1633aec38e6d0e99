package tender.bench;

import com.sun.management.ThreadMXBean;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Stream;
import tender.core.inspect.Inspector;

/**
 * Gives the inspector mutated files of the corpus: {@code InspectorFuzz CORPUS COUNT [SEED]}. Ends with 1 at an exception,
 * at more than 100 ms of CPU, or at more than 64 MiB allocated for one input, and says which input it was.
 */
public final class InspectorFuzz {
    private static final long MOST_NANOS = 100_000_000L;
    private static final long MOST_BYTES = 64L * 1024 * 1024;
    private static final int MOST_CHANGES = 6;
    private static final Instant NOW = Instant.parse("2026-11-23T12:00:00Z");
    private static final String[] TOKENS = {
        "\0",
        "\r",
        "\n\n\n",
        "<ca>",
        "</ca>",
        "<connection>",
        "remote ",
        "-----BEGIN CERTIFICATE-----",
        "-----END ",
        "[Peer]\n",
        "AllowedIPs = ",
        "{",
        "}",
        "=",
        "\"",
        "'",
        "\\",
        "#",
        "255.255.255.255",
        "::ffff:1.2.3.4/128",
        "\u00ff\u00fe",
        "%n%s",
        "0x",
        "9999999999999999999",
        "-1",
        "proto ",
        "push \"",
        "include ",
        "=====",
        "\t\t\t\t"
    };

    private final List<byte[]> corpus;
    private final List<String> names;
    private final Random random;
    private final ThreadMXBean thread = (ThreadMXBean) ManagementFactory.getThreadMXBean();

    /** The worst that one input took. */
    public record Worst(int inputs, long nanos, long bytes) {}

    private InspectorFuzz(List<byte[]> corpus, List<String> names, long seed) {
        this.corpus = corpus;
        this.names = names;
        this.random = new Random(seed);
    }

    /** Throws {@link AssertionError} with the seed and number of an input that breaks a bound. */
    public static Worst run(Path folder, int count, long seed) throws IOException {
        List<byte[]> corpus = new ArrayList<>();
        List<String> names = new ArrayList<>();
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path file : all.filter(Files::isRegularFile).sorted().toList()) {
                if (!file.toString().endsWith(".tsv")) {
                    corpus.add(Files.readAllBytes(file));
                    names.add(file.getFileName().toString());
                }
            }
        }
        return new InspectorFuzz(corpus, names, seed).run(count, seed);
    }

    private Worst run(int count, long seed) {
        long worstNanos = 0;
        long worstBytes = 0;
        for (int i = 0; i < corpus.size(); i++) {
            Inspector.of(names.get(i), corpus.get(i), NOW, Optional.empty()); // classes are loaded before time counts
        }
        for (int i = 0; i < count; i++) {
            int which = random.nextInt(corpus.size());
            byte[] input = mutated(corpus.get(which));
            long cpu = thread.getCurrentThreadCpuTime();
            long bytes = thread.getCurrentThreadAllocatedBytes();
            try {
                Inspector.of(names.get(which), input, NOW, Optional.empty());
            } catch (RuntimeException | StackOverflowError e) {
                throw new AssertionError("seed " + seed + ", input " + i + " from " + names.get(which), e);
            }
            long nanos = thread.getCurrentThreadCpuTime() - cpu;
            long allocated = thread.getCurrentThreadAllocatedBytes() - bytes;
            if (nanos > MOST_NANOS && again(names.get(which), input) > MOST_NANOS || allocated > MOST_BYTES) {
                throw new AssertionError("seed " + seed + ", input " + i + " from " + names.get(which) + ": "
                        + nanos / 1_000_000 + " ms, " + allocated / 1024 + " KiB");
            }
            worstNanos = Math.max(worstNanos, nanos);
            worstBytes = Math.max(worstBytes, allocated);
        }
        return new Worst(count, worstNanos, worstBytes);
    }

    /** The least of three more tries: a collector's or compiler's pause is nobody's fault. */
    private long again(String name, byte[] input) {
        long least = Long.MAX_VALUE;
        for (int i = 0; i < 3; i++) {
            long cpu = thread.getCurrentThreadCpuTime();
            Inspector.of(name, input, NOW, Optional.empty());
            least = Math.min(least, thread.getCurrentThreadCpuTime() - cpu);
        }
        return least;
    }

    private byte[] mutated(byte[] from) {
        byte[] out = from.clone();
        int changes = 1 + random.nextInt(MOST_CHANGES);
        for (int i = 0; i < changes && out.length > 0; i++) {
            int at = random.nextInt(out.length);
            int length = 1 + random.nextInt(Math.min(200, out.length));
            switch (random.nextInt(7)) {
                case 0 -> out[at] ^= (byte) (1 << random.nextInt(8));
                case 1 -> out[at] = (byte) random.nextInt(256);
                case 2 ->
                    out = joined(
                            Arrays.copyOf(out, at),
                            Arrays.copyOfRange(out, Math.min(out.length, at + length), out.length));
                case 3 ->
                    out = joined(
                            Arrays.copyOf(out, Math.min(out.length, at + length)),
                            Arrays.copyOfRange(out, at, out.length));
                case 4 ->
                    out = joined(
                            Arrays.copyOf(out, at),
                            TOKENS[random.nextInt(TOKENS.length)].getBytes(StandardCharsets.ISO_8859_1),
                            Arrays.copyOfRange(out, at, out.length));
                case 5 -> out = Arrays.copyOf(out, at);
                default -> {
                    byte[] other = corpus.get(random.nextInt(corpus.size()));
                    int cut = random.nextInt(other.length);
                    out = joined(Arrays.copyOf(out, at), Arrays.copyOfRange(other, cut, other.length));
                }
            }
        }
        return out;
    }

    private static byte[] joined(byte[]... parts) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        for (byte[] part : parts) {
            out.writeBytes(part);
        }
        return out.toByteArray();
    }

    public static void main(String[] args) throws IOException {
        long seed = args.length > 2 ? Long.parseLong(args[2]) : System.nanoTime();
        Worst worst = run(Path.of(args[0]), Integer.parseInt(args[1]), seed);
        System.out.printf(
                "%d inputs, seed %d: at worst %.1f ms of CPU and %d KiB for one%n",
                worst.inputs(), seed, worst.nanos() / 1e6, worst.bytes() / 1024);
    }
}
