package tender.core.wire;

/** Accepts each packet counter once, as far back as the window reaches (RFC 6479). Not for use by several threads. */
public final class ReplayWindow {
    private static final int WORDS = 128;
    public static final int WIDTH = (WORDS - 1) * Long.SIZE;

    private final long[] seen = new long[WORDS];
    private long highest = -1;

    public boolean accept(long counter) {
        if (counter < 0 || counter <= highest - WIDTH) {
            return false;
        }
        if (counter > highest) {
            long from = highest < 0 ? -1 : highest / Long.SIZE;
            long words = Math.min(counter / Long.SIZE - from, WORDS);
            for (long i = 1; i <= words; i++) {
                seen[(int) ((from + i) % WORDS)] = 0;
            }
            highest = counter;
        }
        int word = (int) (counter / Long.SIZE % WORDS);
        long bit = 1L << counter % Long.SIZE;
        boolean fresh = (seen[word] & bit) == 0;
        seen[word] |= bit;
        return fresh;
    }
}
