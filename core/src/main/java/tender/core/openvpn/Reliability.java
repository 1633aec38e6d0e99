package tender.core.openvpn;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Numbers, acknowledgements and resending of control packets. What arrives early is kept for its turn; what arrives twice is
 * acknowledged again and dropped.
 */
final class Reliability {
    private static final Duration FIRST_WAIT = Duration.ofMillis(700);
    private static final Duration LONGEST_WAIT = Duration.ofSeconds(4);
    private static final int WINDOW = 12;
    private static final int REMEMBERED = 8;

    /** A packet on its way. */
    private static final class Sent {
        private final int opcode;
        private final byte[] payload;
        private Instant again;
        private Duration wait;
        private boolean repeated;

        private Sent(int opcode, byte[] payload, Instant again) {
            this.opcode = opcode;
            this.payload = payload;
            this.again = again;
            this.wait = FIRST_WAIT;
        }
    }

    /** Something to put on the wire. */
    record Outgoing(int id, int opcode, byte[] payload) {}

    private final TreeMap<Integer, Sent> unacknowledged = new TreeMap<>();
    private final Deque<Outgoing> waiting = new ArrayDeque<>();
    private final TreeMap<Integer, byte[]> early = new TreeMap<>();
    private final Deque<Integer> toAcknowledge = new ArrayDeque<>();
    private final Deque<Integer> told = new ArrayDeque<>();
    private int nextOut;
    private int nextIn;
    private boolean lossy;

    /** Whether packets were lost and made up for. */
    boolean isLossy() {
        return lossy;
    }

    void send(int opcode, byte[] payload) {
        waiting.add(new Outgoing(nextOut++, opcode, payload));
    }

    /** What is to go out now: new packets as far as the window lets them, and those that were not acknowledged in time. */
    List<Outgoing> due(Instant now) {
        List<Outgoing> out = new ArrayList<>();
        for (Map.Entry<Integer, Sent> e : unacknowledged.entrySet()) {
            Sent sent = e.getValue();
            if (!now.isBefore(sent.again)) {
                sent.wait = sent.wait.multipliedBy(2).compareTo(LONGEST_WAIT) > 0
                        ? LONGEST_WAIT
                        : sent.wait.multipliedBy(2);
                sent.again = now.plus(sent.wait);
                sent.repeated = true;
                out.add(new Outgoing(e.getKey(), sent.opcode, sent.payload));
            }
        }
        while (!waiting.isEmpty() && unacknowledged.size() < WINDOW) {
            Outgoing next = waiting.poll();
            unacknowledged.put(next.id(), new Sent(next.opcode(), next.payload(), now.plus(FIRST_WAIT)));
            out.add(next);
        }
        return out;
    }

    void acknowledged(List<Integer> ids) {
        for (int id : ids) {
            Sent sent = unacknowledged.remove(id);
            lossy |= sent != null && sent.repeated;
        }
    }

    /** Takes a packet that arrived; whether it was expected at all. */
    boolean arrived(int id, byte[] payload) {
        if (id < 0 || id >= nextIn + WINDOW) {
            return false;
        }
        if (!toAcknowledge.contains(id)) {
            toAcknowledge.add(id);
        }
        lossy |= id != nextIn;
        if (id >= nextIn) {
            early.putIfAbsent(id, payload);
        }
        return true;
    }

    /** The next payload in order. */
    Optional<byte[]> next() {
        byte[] payload = early.remove(nextIn);
        if (payload != null) {
            nextIn++;
        }
        return Optional.ofNullable(payload);
    }

    /**
     * Numbers to acknowledge with the next packet: those not told yet, then the latest once more, since the packet that told
     * them may be lost and a server that keeps no state knows the caller by them.
     */
    List<Integer> takeAcknowledgements(int most) {
        List<Integer> out = new ArrayList<>();
        while (!toAcknowledge.isEmpty() && out.size() < most) {
            int id = toAcknowledge.poll();
            out.add(id);
            told.remove((Integer) id);
            told.addFirst(id);
        }
        for (int id : told) {
            if (out.size() < most && !out.contains(id)) {
                out.add(id);
            }
        }
        while (told.size() > REMEMBERED) {
            told.removeLast();
        }
        return out;
    }

    boolean owesAcknowledgement() {
        return !toAcknowledge.isEmpty();
    }

    boolean allAcknowledged() {
        return unacknowledged.isEmpty() && waiting.isEmpty();
    }
}
