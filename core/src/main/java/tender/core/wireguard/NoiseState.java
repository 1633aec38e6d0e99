package tender.core.wireguard;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Optional;
import org.bouncycastle.crypto.InvalidCipherTextException;
import org.bouncycastle.crypto.digests.Blake2sDigest;
import org.bouncycastle.crypto.macs.HMac;
import org.bouncycastle.crypto.modes.ChaCha20Poly1305;
import org.bouncycastle.crypto.params.AEADParameters;
import org.bouncycastle.crypto.params.KeyParameter;
import org.bouncycastle.math.ec.rfc7748.X25519;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;

/**
 * The chaining key and hash of Noise_IKpsk2_25519_ChaChaPoly_BLAKE2s, and the primitives around them
 * (Noise specification revision 34 §5.2; WireGuard paper §5.4). BLAKE2s as RFC 7693.
 */
final class NoiseState {
    private static final byte[] CONSTRUCTION =
            "Noise_IKpsk2_25519_ChaChaPoly_BLAKE2s".getBytes(StandardCharsets.US_ASCII);
    private static final byte[] IDENTIFIER = "WireGuard v1 zx2c4 Jason@zx2c4.com".getBytes(StandardCharsets.US_ASCII);
    private static final byte[] LABEL_MAC1 = "mac1----".getBytes(StandardCharsets.US_ASCII);
    private static final int TAG_BITS = 128;

    private byte[] chainingKey;
    private byte[] hash;

    /** Starts a handshake towards the responder's static key. */
    NoiseState(TunnelKey responder) {
        chainingKey = hash(CONSTRUCTION);
        hash = hash(chainingKey, IDENTIFIER);
        mixHash(responder.toBytes());
    }

    void mixHash(byte[] data) {
        hash = hash(hash, data);
    }

    void mixKey(byte[] input) {
        chainingKey = kdf(chainingKey, input, 1)[0];
    }

    /** Mixes a shared secret and encrypts under the key that comes out. */
    byte[] mixAndSeal(byte[] input, byte[] plain) {
        byte[][] keys = kdf(chainingKey, input, 2);
        chainingKey = keys[0];
        byte[] sealed = seal(keys[1], 0, plain, hash);
        mixHash(sealed);
        return sealed;
    }

    /** Mixes a shared secret and opens what was sealed under the key that comes out; empty when it doesn't open. */
    Optional<byte[]> mixAndOpen(byte[] input, byte[] sealed) {
        byte[][] keys = kdf(chainingKey, input, 2);
        chainingKey = keys[0];
        Optional<byte[]> plain = open(keys[1], 0, sealed, hash);
        mixHash(sealed);
        return plain;
    }

    /** The psk2 step: mixes the preshared key (32 zero bytes where there is none) and gives the key of the empty payload. */
    byte[] mixPresharedKey(Optional<Secret> presharedKey) {
        byte[] psk =
                presharedKey.map(key -> key.reveal(RevealSecret.TO_HANDSHAKE)).orElse(new byte[TunnelKey.BYTES]);
        byte[][] keys = kdf(chainingKey, psk, 3);
        chainingKey = keys[0];
        mixHash(keys[1]);
        Arrays.fill(psk, (byte) 0);
        return keys[2];
    }

    byte[] sealNothing(byte[] key) {
        byte[] sealed = seal(key, 0, new byte[0], hash);
        mixHash(sealed);
        return sealed;
    }

    boolean opensNothing(byte[] key, byte[] sealed) {
        boolean opened = open(key, 0, sealed, hash).isPresent();
        mixHash(sealed);
        return opened;
    }

    /** The two transport keys: first the initiator's sending key. */
    byte[][] split() {
        return kdf(chainingKey, new byte[0], 2);
    }

    static byte[] seal(byte[] key, long counter, byte[] plain, byte[] associated) {
        ChaCha20Poly1305 cipher = cipher(true, key, counter, associated);
        byte[] out = new byte[cipher.getOutputSize(plain.length)];
        int written = cipher.processBytes(plain, 0, plain.length, out, 0);
        try {
            cipher.doFinal(out, written);
        } catch (InvalidCipherTextException e) {
            throw new IllegalStateException("encryption cannot fail on a tag", e);
        }
        return out;
    }

    static Optional<byte[]> open(byte[] key, long counter, byte[] sealed, byte[] associated) {
        if (sealed.length < TAG_BITS / 8) {
            return Optional.empty();
        }
        ChaCha20Poly1305 cipher = cipher(false, key, counter, associated);
        byte[] out = new byte[cipher.getOutputSize(sealed.length)];
        try {
            int written = cipher.processBytes(sealed, 0, sealed.length, out, 0);
            cipher.doFinal(out, written);
            return Optional.of(out);
        } catch (InvalidCipherTextException e) {
            return Optional.empty();
        }
    }

    private static ChaCha20Poly1305 cipher(boolean encrypt, byte[] key, long counter, byte[] associated) {
        byte[] nonce = new byte[12];
        for (int i = 0; i < 8; i++) {
            nonce[4 + i] = (byte) (counter >>> 8 * i);
        }
        ChaCha20Poly1305 cipher = new ChaCha20Poly1305();
        cipher.init(encrypt, new AEADParameters(new KeyParameter(key), TAG_BITS, nonce, associated));
        return cipher;
    }

    /** X25519 (RFC 7748 §5); empty when the result is all zero, as RFC 7748 §6.1 wants refused. */
    static Optional<byte[]> agree(byte[] privateKey, byte[] publicKey) {
        byte[] shared = new byte[X25519.POINT_SIZE];
        return X25519.calculateAgreement(privateKey, 0, publicKey, 0, shared, 0)
                ? Optional.of(shared)
                : Optional.empty();
    }

    static byte[] ephemeral(SecureRandom random) {
        byte[] secret = new byte[X25519.SCALAR_SIZE];
        X25519.generatePrivateKey(random, secret);
        return secret;
    }

    static byte[] publicOf(byte[] privateKey) {
        byte[] point = new byte[X25519.POINT_SIZE];
        X25519.generatePublicKey(privateKey, 0, point, 0);
        return point;
    }

    /** mac1 over a message's first bytes, keyed with the receiver's public key (paper §5.4.4). */
    static byte[] mac1(TunnelKey receiver, byte[] message, int length) {
        return mac(hash(LABEL_MAC1, receiver.toBytes()), message, length);
    }

    /** Keyed BLAKE2s of 16 bytes over a message's first bytes. */
    static byte[] mac(byte[] key, byte[] message, int length) {
        Blake2sDigest digest = new Blake2sDigest(key, Packets.MAC_BYTES, null, null);
        digest.update(message, 0, length);
        byte[] out = new byte[Packets.MAC_BYTES];
        digest.doFinal(out, 0);
        return out;
    }

    static byte[] hash(byte[]... parts) {
        Blake2sDigest digest = new Blake2sDigest(256);
        for (byte[] part : parts) {
            digest.update(part, 0, part.length);
        }
        byte[] out = new byte[32];
        digest.doFinal(out, 0);
        return out;
    }

    /** HKDF with HMAC-BLAKE2s (Noise §4.3). */
    private static byte[][] kdf(byte[] key, byte[] input, int count) {
        byte[] pseudoRandomKey = hmac(key, input);
        byte[][] out = new byte[count][];
        byte[] previous = new byte[0];
        for (int i = 0; i < count; i++) {
            byte[] block = Arrays.copyOf(previous, previous.length + 1);
            block[previous.length] = (byte) (i + 1);
            previous = hmac(pseudoRandomKey, block);
            out[i] = previous;
        }
        return out;
    }

    private static byte[] hmac(byte[] key, byte[] data) {
        HMac mac = new HMac(new Blake2sDigest(256));
        mac.init(new KeyParameter(key));
        mac.update(data, 0, data.length);
        byte[] out = new byte[32];
        mac.doFinal(out, 0);
        return out;
    }
}
