package tender.core.trial;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.OptionalInt;

/**
 * What passed through a tunnel to a host that gives back what it gets (RFC 862), the same amount each way.
 *
 * @param bytes that came back
 * @param millis that it took
 */
public record Transfer(long bytes, double millis) {
    private static final int ENOUGH = 3;
    private static final double MUCH_LESS = 0.5;

    /** In millions of bits a second, each way. */
    public double megabits() {
        return millis <= 0 ? 0 : bytes * 8 / millis / 1_000;
    }

    /**
     * Put in context: a number alone says nothing.
     *
     * @param line what the slower direction of the gateway's line takes, in millions of bits a second, where it is known
     * @param earlier the same measured before from the same place
     */
    public String words(OptionalInt line, List<Double> earlier) {
        StringBuilder out = new StringBuilder(String.format(Locale.ROOT, "%.1f Mbit/s each way", megabits()));
        if (line.isPresent() && line.getAsInt() > 0) {
            out.append(String.format(
                    Locale.ROOT,
                    ", %.0f %% of what the line takes (%d)",
                    100 * megabits() / line.getAsInt(),
                    line.getAsInt()));
        }
        if (earlier.size() >= ENOUGH) {
            double usual = median(earlier);
            out.append(String.format(
                    Locale.ROOT,
                    megabits() < MUCH_LESS * usual ? ", much less than the usual %.1f" : ", usually %.1f",
                    usual));
        }
        return out.toString();
    }

    private static double median(List<Double> all) {
        double[] sorted = all.stream().mapToDouble(Double::doubleValue).sorted().toArray();
        return Arrays.stream(sorted).skip((sorted.length - 1) / 2).findFirst().orElse(0);
    }
}
