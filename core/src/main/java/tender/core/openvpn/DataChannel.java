package tender.core.openvpn;

import java.nio.ByteBuffer;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;
import org.bouncycastle.crypto.BlockCipher;
import org.bouncycastle.crypto.InvalidCipherTextException;
import org.bouncycastle.crypto.engines.AESEngine;
import org.bouncycastle.crypto.macs.HMac;
import org.bouncycastle.crypto.modes.AEADCipher;
import org.bouncycastle.crypto.modes.CBCBlockCipher;
import org.bouncycastle.crypto.modes.ChaCha20Poly1305;
import org.bouncycastle.crypto.modes.GCMBlockCipher;
import org.bouncycastle.crypto.paddings.PaddedBufferedBlockCipher;
import org.bouncycastle.crypto.params.AEADParameters;
import org.bouncycastle.crypto.params.KeyParameter;
import org.bouncycastle.crypto.params.ParametersWithIV;
import tender.core.wire.MalformedException;
import tender.core.wire.ReplayWindow;

/** Seals and opens the tunnel's packets: AES-GCM, ChaCha20-Poly1305, and AES-CBC with HMAC for old servers. */
final class DataChannel {
    private static final int TAG = 16;
    private static final int IMPLICIT_IV = 8;
    private static final int BLOCK = 16;
    private static final int HMAC_AT = 64;
    private static final int KEY = 128;

    private final String cipher;
    private final String digest;
    private final int peerId;
    private final byte[] keys;
    private final SecureRandom random;
    private final ReplayWindow seen = new ReplayWindow();
    private final int out;
    private final int in;
    private int next = 1;

    /** A client's. @param peerId as pushed by the server, or -1 for the older form of packets */
    DataChannel(String cipher, String digest, int peerId, byte[] keys, SecureRandom random) {
        this(cipher, digest, peerId, keys, true, random);
    }

    /** @param client whether this is the client's end; what goes to the server has the first half of the keys */
    DataChannel(String cipher, String digest, int peerId, byte[] keys, boolean client, SecureRandom random) {
        this.out = client ? 0 : 1;
        this.in = client ? 1 : 0;
        this.cipher = cipher.toUpperCase(Locale.ROOT);
        this.digest = digest;
        this.peerId = peerId;
        this.keys = keys;
        this.random = random;
        if (!knows(this.cipher)) {
            throw new MalformedException("cipher", "", cipher + " is not among those that are tried");
        }
    }

    static boolean knows(String cipher) {
        return cipher.toUpperCase(Locale.ROOT).matches("AES-(128|192|256)-(GCM|CBC)|CHACHA20-POLY1305");
    }

    private boolean authenticates() {
        return !cipher.endsWith("CBC");
    }

    private int keyBytes() {
        return cipher.startsWith("AES-") ? Integer.parseInt(cipher.substring(4, 7)) / 8 : 32;
    }

    private byte[] header() {
        return peerId < 0
                ? new byte[] {(byte) (ControlPacket.DATA_V1 << 3)}
                : ByteBuffer.allocate(4)
                        .putInt(ControlPacket.DATA_V2 << 27 | peerId & 0xffffff)
                        .array();
    }

    byte[] seal(byte[] packet) {
        byte[] number = ByteBuffer.allocate(4).putInt(next++).array();
        byte[] header = header();
        try {
            if (authenticates()) {
                byte[] additional = peerId < 0 ? number : ControlChannelProtection.join(header, number);
                byte[] sealed = aead(true, out, number, additional, packet);
                // the tag goes first
                return ControlChannelProtection.join(
                        header,
                        number,
                        Arrays.copyOfRange(sealed, sealed.length - TAG, sealed.length),
                        Arrays.copyOf(sealed, sealed.length - TAG));
            }
            byte[] iv = new byte[BLOCK];
            random.nextBytes(iv);
            byte[] sealed = ControlChannelProtection.join(
                    iv, cbc(true, out, iv, ControlChannelProtection.join(number, packet)));
            return ControlChannelProtection.join(header, mac(out, sealed), sealed);
        } catch (InvalidCipherTextException e) {
            throw new IllegalStateException("encryption cannot fail on a tag", e);
        }
    }

    /** Empty when it does not open or was here before. */
    Optional<byte[]> open(byte[] packet) {
        int opcode = (packet[0] & 0xff) >>> 3;
        int header = opcode == ControlPacket.DATA_V2 ? 4 : 1;
        try {
            if (authenticates()) {
                int body = header + 4 + TAG;
                if (packet.length < body) {
                    return Optional.empty();
                }
                byte[] number = Arrays.copyOfRange(packet, header, header + 4);
                byte[] additional = header == 4 ? Arrays.copyOf(packet, 8) : number;
                byte[] sealed = ControlChannelProtection.join(
                        Arrays.copyOfRange(packet, body, packet.length), Arrays.copyOfRange(packet, header + 4, body));
                byte[] opened = aead(false, in, number, additional, sealed);
                return fresh(number) ? Optional.of(opened) : Optional.empty();
            }
            int macBytes = Digests.of(digest).getDigestSize();
            int at = header + macBytes;
            if (packet.length < at + 2 * BLOCK || (packet.length - at) % BLOCK != 0) {
                return Optional.empty();
            }
            byte[] sealed = Arrays.copyOfRange(packet, at, packet.length);
            if (!MessageDigest.isEqual(Arrays.copyOfRange(packet, header, at), mac(in, sealed))) {
                return Optional.empty();
            }
            byte[] opened =
                    cbc(false, in, Arrays.copyOf(sealed, BLOCK), Arrays.copyOfRange(sealed, BLOCK, sealed.length));
            return opened.length >= 4 && fresh(Arrays.copyOf(opened, 4))
                    ? Optional.of(Arrays.copyOfRange(opened, 4, opened.length))
                    : Optional.empty();
        } catch (InvalidCipherTextException e) {
            return Optional.empty();
        }
    }

    private boolean fresh(byte[] number) {
        return seen.accept(ByteBuffer.wrap(number).getInt() & 0xffffffffL);
    }

    /** @param half 0 for what goes to the server, 1 for what comes from it */
    private byte[] aead(boolean seal, int half, byte[] number, byte[] additional, byte[] in)
            throws InvalidCipherTextException {
        int at = half * KEY;
        byte[] nonce = ControlChannelProtection.join(
                number, Arrays.copyOfRange(keys, at + HMAC_AT, at + HMAC_AT + IMPLICIT_IV));
        AEADCipher aead = cipher.startsWith("CHACHA")
                ? new ChaCha20Poly1305()
                : GCMBlockCipher.newInstance(AESEngine.newInstance());
        aead.init(seal, new AEADParameters(new KeyParameter(keys, at, keyBytes()), TAG * 8, nonce, additional));
        byte[] out = new byte[aead.getOutputSize(in.length)];
        int done = aead.processBytes(in, 0, in.length, out, 0);
        aead.doFinal(out, done);
        return out;
    }

    private byte[] cbc(boolean seal, int half, byte[] iv, byte[] in) throws InvalidCipherTextException {
        BlockCipher block = CBCBlockCipher.newInstance(AESEngine.newInstance());
        PaddedBufferedBlockCipher padded = new PaddedBufferedBlockCipher(block);
        padded.init(seal, new ParametersWithIV(new KeyParameter(keys, half * KEY, keyBytes()), iv));
        byte[] out = new byte[padded.getOutputSize(in.length)];
        int done = padded.processBytes(in, 0, in.length, out, 0);
        done += padded.doFinal(out, done);
        return Arrays.copyOf(out, done);
    }

    private byte[] mac(int half, byte[] sealed) {
        HMac mac = new HMac(Digests.of(digest));
        mac.init(new KeyParameter(keys, half * KEY + HMAC_AT, mac.getMacSize()));
        mac.update(sealed, 0, sealed.length);
        byte[] out = new byte[mac.getMacSize()];
        mac.doFinal(out, 0);
        return out;
    }
}
