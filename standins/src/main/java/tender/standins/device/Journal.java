package tender.standins.device;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayDeque;
import java.util.Deque;

/** A device's log: the last lines, each with its time. */
public final class Journal {
    private static final int KEPT = 500;

    private final Deque<String> lines = new ArrayDeque<>();

    public synchronized void say(String what) {
        if (lines.size() == KEPT) {
            lines.removeFirst();
        }
        lines.addLast(Instant.now().truncatedTo(ChronoUnit.SECONDS) + " " + what);
    }

    public synchronized String text() {
        return String.join("\n", lines) + "\n";
    }
}
