package tender.core.wireguard;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import tender.core.wire.ReplayWindow;

/** The two transport keys of one handshake with their counters. Not for use by several threads. */
public final class Keypair {
    /** Paper §6.1: after this long an initiator asks for new keys. */
    public static final Duration REKEY_AFTER = Duration.ofSeconds(120);
    /** Paper §6.1: after this long keys are refused. */
    public static final Duration REJECT_AFTER = Duration.ofSeconds(180);

    private static final int PADDING = 16;

    private final byte[] sendKey;
    private final byte[] receiveKey;
    private final int localIndex;
    private final int remoteIndex;
    private final Instant made;
    private final ReplayWindow window = new ReplayWindow();
    private long sendCounter;

    Keypair(byte[] sendKey, byte[] receiveKey, int localIndex, int remoteIndex, Instant made) {
        this.sendKey = sendKey;
        this.receiveKey = receiveKey;
        this.localIndex = localIndex;
        this.remoteIndex = remoteIndex;
        this.made = made;
    }

    public int localIndex() {
        return localIndex;
    }

    public boolean wantsRekey(Instant now) {
        return now.isAfter(made.plus(REKEY_AFTER));
    }

    public boolean isOutdated(Instant now) {
        return now.isAfter(made.plus(REJECT_AFTER));
    }

    /** Encrypts an inside packet (empty: a keep-alive), padded to 16 bytes (paper §5.4.6). */
    public byte[] seal(byte[] packet) {
        byte[] padded = java.util.Arrays.copyOf(packet, (packet.length + PADDING - 1) / PADDING * PADDING);
        long counter = sendCounter++;
        return new Packets.Transport(remoteIndex, counter, NoiseState.seal(sendKey, counter, padded, new byte[0]))
                .encode();
    }

    /** Opens an inside packet, still padded; empty when forged, replayed or too old. */
    public Optional<byte[]> open(Packets.Transport packet, Instant now) {
        if (packet.receiver() != localIndex || isOutdated(now)) {
            return Optional.empty();
        }
        return NoiseState.open(receiveKey, packet.counter(), packet.encrypted(), new byte[0])
                .filter(plain -> window.accept(packet.counter()));
    }
}
