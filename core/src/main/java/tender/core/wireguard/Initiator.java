package tender.core.wireguard;

import java.security.MessageDigest;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Optional;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.credential.TunnelKeyPair;

/**
 * The calling side of a WireGuard tunnel, fed with datagrams and time; it never touches a socket. Not for use by several
 * threads.
 *
 * <p>{@link #start} gives the first packet to send. Then each datagram goes to {@link #onDatagram} and each wake-up to
 * {@link #onTick}; both give an {@link Event} and, where something is to be sent, its bytes. A lost initiation is sent
 * again with a fresh ephemeral key after a set time, by the protocol {@link #RETRY_AFTER} (paper §6.4).
 */
public final class Initiator {
    public static final Duration RETRY_AFTER = Duration.ofSeconds(5);

    /** What a call brought about. */
    public enum Kind {
        /** Nothing of interest; whatever came was not for us. */
        NOTHING,
        /** A new initiation goes out. */
        SENT_INITIATION,
        /** The response opened: keys are agreed. */
        ESTABLISHED,
        /** A response for our handshake came and does not open: the preshared keys differ. */
        RESPONSE_UNREADABLE,
        /** The peer is under load and answers with a cookie; the next initiation shows it. */
        PEER_UNDER_LOAD,
        /** An inside packet arrived. */
        RECEIVED
    }

    /** The outcome of a call: {@code bytes} is what to send, or for {@link Kind#RECEIVED} the inside packet. */
    public record Event(Kind kind, byte[] bytes) {
        private static final Event NOTHING = new Event(Kind.NOTHING, new byte[0]);
    }

    private final TunnelKeyPair own;
    private final TunnelKey peer;
    private final Optional<Secret> presharedKey;
    private final Duration retryAfter;
    private final SecureRandom random;

    private NoiseState pending;
    private byte[] pendingEphemeral;
    private int pendingIndex;
    private Instant sentAt;
    private Keypair keypair;
    private byte[] pendingMac1 = new byte[0];
    private Optional<byte[]> shownCookie = Optional.empty();
    private Instant cookieAt = Instant.MIN;

    /** @param retryAfter how long to wait for a response; {@link #RETRY_AFTER}, or less for a probe that should end soon */
    public Initiator(
            TunnelKeyPair own,
            TunnelKey peer,
            Optional<Secret> presharedKey,
            Duration retryAfter,
            SecureRandom random) {
        this.retryAfter = retryAfter;
        this.own = own;
        this.peer = peer;
        this.presharedKey = presharedKey;
        this.random = random;
    }

    /** The first initiation, or one for a rekey. A peer key that agrees to nothing gives a packet that cannot be answered. */
    public Event start(Instant now) {
        NoiseState noise = new NoiseState(peer);
        byte[] ephemeral = NoiseState.ephemeral(random);
        byte[] ephemeralPublic = NoiseState.publicOf(ephemeral);
        noise.mixHash(ephemeralPublic);
        noise.mixKey(ephemeralPublic);
        byte[] privateKey = own.privateKey().reveal(RevealSecret.TO_HANDSHAKE);
        byte[] sealedStatic =
                noise.mixAndSeal(shared(ephemeral), own.publicKey().toBytes());
        byte[] sealedStamp = noise.mixAndSeal(shared(privateKey), Tai64n.of(now));
        Arrays.fill(privateKey, (byte) 0);
        pending = noise;
        pendingEphemeral = ephemeral;
        pendingIndex = random.nextInt();
        sentAt = now;
        byte[] packet = new Packets.Initiation(pendingIndex, ephemeralPublic, sealedStatic, sealedStamp).encode();
        putMac1(packet, peer);
        pendingMac1 =
                Arrays.copyOfRange(packet, packet.length - 2 * Packets.MAC_BYTES, packet.length - Packets.MAC_BYTES);
        shownCookie.filter(c -> now.isBefore(cookieAt.plus(Cookies.LIFE))).ifPresent(c -> Cookies.putMac2(packet, c));
        return new Event(Kind.SENT_INITIATION, packet);
    }

    private byte[] shared(byte[] privateKey) {
        return NoiseState.agree(privateKey, peer.toBytes()).orElse(new byte[TunnelKey.BYTES]);
    }

    static void putMac1(byte[] packet, TunnelKey receiver) {
        int covered = packet.length - 2 * Packets.MAC_BYTES;
        System.arraycopy(NoiseState.mac1(receiver, packet, covered), 0, packet, covered, Packets.MAC_BYTES);
    }

    static boolean hasMac1(byte[] packet, TunnelKey receiver) {
        int covered = packet.length - 2 * Packets.MAC_BYTES;
        byte[] mac = Arrays.copyOfRange(packet, covered, covered + Packets.MAC_BYTES);
        return MessageDigest.isEqual(mac, NoiseState.mac1(receiver, packet, covered));
    }

    public Event onDatagram(byte[] datagram, Instant now) {
        Packets.Packet packet = Packets.decode(datagram).orElse(null);
        if (packet instanceof Packets.Response response) {
            return onResponse(response, datagram, now);
        }
        if (packet instanceof Packets.CookieReply cookie && pending != null && cookie.receiver() == pendingIndex) {
            return Cookies.open(peer, cookie, pendingMac1)
                    .map(c -> {
                        shownCookie = Optional.of(c);
                        cookieAt = now;
                        return new Event(Kind.PEER_UNDER_LOAD, new byte[0]);
                    })
                    .orElse(Event.NOTHING);
        }
        if (packet instanceof Packets.Transport transport && keypair != null) {
            return keypair.open(transport, now)
                    .map(plain -> new Event(Kind.RECEIVED, plain))
                    .orElse(Event.NOTHING);
        }
        return Event.NOTHING;
    }

    private Event onResponse(Packets.Response response, byte[] datagram, Instant now) {
        if (pending == null || response.receiver() != pendingIndex || !hasMac1(datagram, own.publicKey())) {
            return Event.NOTHING;
        }
        NoiseState noise = pending;
        byte[] privateKey = own.privateKey().reveal(RevealSecret.TO_HANDSHAKE);
        Optional<byte[]> ee = NoiseState.agree(pendingEphemeral, response.ephemeral());
        Optional<byte[]> se = NoiseState.agree(privateKey, response.ephemeral());
        Arrays.fill(privateKey, (byte) 0);
        if (ee.isEmpty() || se.isEmpty()) {
            return Event.NOTHING;
        }
        pending = null;
        noise.mixHash(response.ephemeral());
        noise.mixKey(response.ephemeral());
        noise.mixKey(ee.get());
        noise.mixKey(se.get());
        byte[] key = noise.mixPresharedKey(presharedKey);
        if (!noise.opensNothing(key, response.encryptedNothing())) {
            return new Event(Kind.RESPONSE_UNREADABLE, new byte[0]);
        }
        byte[][] keys = noise.split();
        keypair = new Keypair(keys[0], keys[1], pendingIndex, response.sender(), now);
        return new Event(Kind.ESTABLISHED, new byte[0]);
    }

    /** Sends the initiation again when its time has come, and asks for new keys when the old ones age. */
    public Event onTick(Instant now) {
        boolean unanswered = pending != null && !now.isBefore(sentAt.plus(retryAfter));
        boolean aged = pending == null && keypair != null && keypair.wantsRekey(now);
        return unanswered || aged ? start(now) : Event.NOTHING;
    }

    public boolean isEstablished() {
        return keypair != null;
    }

    /** An inside packet made ready to send; only once established. */
    public byte[] seal(byte[] packet) {
        if (keypair == null) {
            throw new IllegalStateException("no keys are agreed yet");
        }
        return keypair.seal(packet);
    }
}
