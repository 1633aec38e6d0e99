package tender.core.wire;

import java.time.Duration;

/**
 * What looking into files that somebody sends may cost in all: bytes unpacked, entries, rounds of key derivation, and time. One
 * budget goes with one request through every file, archive and key store in it. Confined to one thread.
 */
public final class Budget {
    private static final long BYTES = 64L * 1024 * 1024;
    private static final int ENTRIES = 4_000;
    private static final long ROUNDS = 4_000_000;
    private static final Duration TIME = Duration.ofSeconds(15);

    private long bytes;
    private int entries;
    private long rounds;
    private final long end;

    public Budget() {
        this(BYTES, ENTRIES, ROUNDS, TIME);
    }

    public Budget(long bytes, int entries, long rounds, Duration time) {
        this.bytes = bytes;
        this.entries = entries;
        this.rounds = rounds;
        this.end = System.nanoTime() + time.toNanos();
    }

    /** Pays for one entry of an archive, whatever it is. */
    public void entry() {
        if (--entries < 0) {
            throw over("more entries than are read");
        }
        time();
    }

    /** Pays for bytes that were unpacked, kept or not. */
    public void bytes(long unpacked) {
        bytes -= unpacked;
        if (bytes < 0) {
            throw over("more than is read: " + BYTES / 1024 / 1024 + " MiB unpacked in all");
        }
        time();
    }

    /** How much may still be unpacked. */
    public long bytesLeft() {
        return bytes;
    }

    /** Pays for a key derivation before it is made. */
    public void rounds(long count) {
        if (count < 0 || count > rounds) {
            throw over("opening its keys takes more rounds of derivation than are spent on one request");
        }
        rounds -= count;
        time();
    }

    private void time() {
        if (System.nanoTime() - end > 0) {
            throw over("looking into it takes longer than is spent on one request");
        }
    }

    private static MalformedException over(String what) {
        return new MalformedException("too-large", "", what);
    }
}
