package tender.core.ike;

import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Optional;

/** The keys of an IKE connection (RFC 7296 §2.14), and those of the tunnel in it (§2.17). */
final class Keys {
    private final Prf prf;
    private final byte[] derive;
    private final byte[] proofI;
    private final byte[] proofR;
    private final Sealer fromInitiator;
    private final Sealer fromResponder;

    Keys(Proposal suite, byte[] shared, byte[] nonces, byte[] spis, SecureRandom random) {
        this.prf = new Prf(suite.need(Transform.PRF).hash());
        Transform cipher = suite.need(Transform.CIPHER);
        Optional<Transform> integrity = suite.one(Transform.INTEGRITY);
        int mac = cipher.isAuthenticated() ? 0 : integrity.orElseThrow().macKeyBytes();
        int key = cipher.cipherKeyBytes();
        int hash = prf.bytes();
        byte[] seed = prf.of(nonces, shared);
        Cutter all = new Cutter(prf.stream(seed, Bytes.join(nonces, spis), 3 * hash + 2 * mac + 2 * key));
        this.derive = all.next(hash);
        byte[] macI = all.next(mac);
        byte[] macR = all.next(mac);
        this.fromInitiator = new Sealer(cipher, integrity, all.next(key), macI, random);
        this.fromResponder = new Sealer(cipher, integrity, all.next(key), macR, random);
        this.proofI = all.next(hash);
        this.proofR = all.next(hash);
    }

    private static final class Cutter {
        private final byte[] bytes;
        private int at;

        private Cutter(byte[] bytes) {
            this.bytes = bytes;
        }

        private byte[] next(int count) {
            at += count;
            return Arrays.copyOfRange(bytes, at - count, at);
        }
    }

    Prf prf() {
        return prf;
    }

    byte[] proof(boolean initiator) {
        return initiator ? proofI : proofR;
    }

    Sealer sealer(boolean initiator) {
        return initiator ? fromInitiator : fromResponder;
    }

    /** The tunnel's two directions, what the initiator sends first. */
    Sealer[] tunnel(Proposal suite, byte[] nonces, SecureRandom random) {
        Transform cipher = suite.need(Transform.CIPHER);
        Optional<Transform> integrity = suite.one(Transform.INTEGRITY);
        int mac = cipher.isAuthenticated() ? 0 : integrity.orElseThrow().macKeyBytes();
        int key = cipher.cipherKeyBytes();
        Cutter all = new Cutter(prf.stream(derive, nonces, 2 * (key + mac)));
        Sealer[] out = new Sealer[2];
        for (int i = 0; i < 2; i++) {
            byte[] own = all.next(key);
            out[i] = new Sealer(cipher, integrity, own, all.next(mac), random);
        }
        return out;
    }
}
