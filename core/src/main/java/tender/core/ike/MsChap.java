package tender.core.ike;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Locale;
import org.bouncycastle.crypto.digests.MD4Digest;
import org.bouncycastle.crypto.engines.DESEngine;
import org.bouncycastle.crypto.params.KeyParameter;

/** MS-CHAP version 2 (RFC 2759) and the keys that it leaves (RFC 3079). */
final class MsChap {
    private static final byte[] SIGNING = ascii("Magic server to client signing constant");
    private static final byte[] AGAIN = ascii("Pad to make it do more than one iteration");
    private static final byte[] MASTER = ascii("This is the MPPE Master Key");
    private static final byte[] CLIENT_SENDS =
            ascii("On the client side, this is the send key; on the server side, it is the receive key.");
    private static final byte[] CLIENT_RECEIVES =
            ascii("On the client side, this is the receive key; on the server side, it is the send key.");

    private final byte[] hash;
    private final byte[] challenge;
    private final byte[] response;

    /**
     * @param server the server's challenge, 16 bytes
     * @param peer the caller's, 16 bytes
     */
    MsChap(String user, String password, byte[] server, byte[] peer) {
        this.hash = md4(password.getBytes(StandardCharsets.UTF_16LE));
        this.challenge = Arrays.copyOf(Prf.hashed("SHA1", peer, server, user.getBytes(StandardCharsets.UTF_8)), 8);
        this.response = Bytes.join(des(hash, 0), des(hash, 7), des(Arrays.copyOf(hash, 21), 14));
    }

    private static byte[] ascii(String text) {
        return text.getBytes(StandardCharsets.US_ASCII);
    }

    private static byte[] md4(byte[] in) {
        MD4Digest digest = new MD4Digest();
        digest.update(in, 0, in.length);
        byte[] out = new byte[16];
        digest.doFinal(out, 0);
        return out;
    }

    /** Seven bytes of key, spread over eight. */
    private byte[] des(byte[] key, int at) {
        byte[] wide = new byte[8];
        long bits = 0;
        for (int i = 0; i < 7; i++) {
            bits = bits << 8 | key[at + i] & 0xff;
        }
        for (int i = 7; i >= 0; i--) {
            wide[i] = (byte) ((bits & 0x7f) << 1);
            bits >>>= 7;
        }
        DESEngine des = new DESEngine();
        des.init(true, new KeyParameter(wide));
        byte[] out = new byte[8];
        des.processBlock(challenge, 0, out, 0);
        return out;
    }

    /** What the caller answers, 24 bytes. */
    byte[] response() {
        return response;
    }

    /** What a server that knows the password says: {@code S=} and 40 hexadecimal digits. */
    String authenticator() {
        byte[] first = Prf.hashed("SHA1", md4(hash), response, SIGNING);
        return "S="
                + HexFormat.of()
                        .formatHex(Prf.hashed("SHA1", first, challenge, AGAIN))
                        .toUpperCase(Locale.ROOT);
    }

    /** The key that both sides have after it, 64 bytes. */
    byte[] key() {
        byte[] master = Arrays.copyOf(Prf.hashed("SHA1", md4(hash), response, MASTER), 16);
        return Arrays.copyOf(Bytes.join(start(master, CLIENT_SENDS), start(master, CLIENT_RECEIVES)), 64);
    }

    private static byte[] start(byte[] master, byte[] magic) {
        byte[] pad = new byte[40];
        Arrays.fill(pad, (byte) 0xf2);
        return Arrays.copyOf(Prf.hashed("SHA1", master, new byte[40], magic, pad), 16);
    }
}
