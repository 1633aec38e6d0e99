package tender.core.wireguard;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.Arrays;
import java.util.Optional;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.credential.TunnelKeyPair;

/** The answering side of one handshake: initiation in, response and keys out. Holds no state between handshakes. */
public final class Responder {
    /** An initiation that opened: who calls, and its time stamp, which must be later than the caller's last one. */
    public static final class Call {
        private final NoiseState noise;
        private final Packets.Initiation initiation;
        private final TunnelKey caller;
        private final byte[] stamp;

        private Call(NoiseState noise, Packets.Initiation initiation, TunnelKey caller, byte[] stamp) {
            this.noise = noise;
            this.initiation = initiation;
            this.caller = caller;
            this.stamp = stamp;
        }

        public TunnelKey caller() {
            return caller;
        }

        /** Whether this call is newer than one with the given stamp (null: none yet). */
        public boolean isNewerThan(byte[] earlier) {
            return earlier == null || Tai64n.isAfter(stamp, earlier);
        }

        public byte[] stamp() {
            return stamp.clone();
        }
    }

    /** The response to send and the keys it agrees. */
    public record Answer(byte[] response, Keypair keypair) {}

    private final TunnelKeyPair own;
    private final SecureRandom random;

    public Responder(TunnelKeyPair own, SecureRandom random) {
        this.own = own;
        this.random = random;
    }

    /** Opens an initiation; empty when its MAC or contents are not for our key. */
    public Optional<Call> open(Packets.Initiation initiation, byte[] datagram) {
        if (!Initiator.hasMac1(datagram, own.publicKey())) {
            return Optional.empty();
        }
        byte[] privateKey = own.privateKey().reveal(RevealSecret.TO_HANDSHAKE);
        NoiseState noise = new NoiseState(own.publicKey());
        noise.mixHash(initiation.ephemeral());
        noise.mixKey(initiation.ephemeral());
        Optional<Call> call = NoiseState.agree(privateKey, initiation.ephemeral())
                .flatMap(es -> noise.mixAndOpen(es, initiation.encryptedStatic()))
                .flatMap(caller -> NoiseState.agree(privateKey, caller)
                        .flatMap(ss -> noise.mixAndOpen(ss, initiation.encryptedTimestamp()))
                        .map(stamp -> new Call(noise, initiation, TunnelKey.of(caller), stamp)));
        Arrays.fill(privateKey, (byte) 0);
        return call;
    }

    public Optional<Answer> answer(Call call, Optional<Secret> presharedKey, Instant now) {
        byte[] ephemeral = NoiseState.ephemeral(random);
        byte[] ephemeralPublic = NoiseState.publicOf(ephemeral);
        Optional<byte[]> ee = NoiseState.agree(ephemeral, call.initiation.ephemeral());
        Optional<byte[]> se = NoiseState.agree(ephemeral, call.caller.toBytes());
        if (ee.isEmpty() || se.isEmpty()) {
            return Optional.empty();
        }
        NoiseState noise = call.noise;
        noise.mixHash(ephemeralPublic);
        noise.mixKey(ephemeralPublic);
        noise.mixKey(ee.get());
        noise.mixKey(se.get());
        byte[] nothing = noise.sealNothing(noise.mixPresharedKey(presharedKey));
        int index = random.nextInt();
        byte[] packet = new Packets.Response(index, call.initiation.sender(), ephemeralPublic, nothing).encode();
        Initiator.putMac1(packet, call.caller);
        byte[][] keys = noise.split();
        return Optional.of(new Answer(packet, new Keypair(keys[1], keys[0], index, call.initiation.sender(), now)));
    }
}
