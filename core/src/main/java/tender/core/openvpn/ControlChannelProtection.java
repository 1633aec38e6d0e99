package tender.core.openvpn;

import java.nio.ByteBuffer;
import java.security.MessageDigest;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import java.util.HexFormat;
import java.util.Optional;
import org.bouncycastle.crypto.Digest;
import org.bouncycastle.crypto.digests.SHA256Digest;
import org.bouncycastle.crypto.engines.AESEngine;
import org.bouncycastle.crypto.macs.HMac;
import org.bouncycastle.crypto.modes.SICBlockCipher;
import org.bouncycastle.crypto.params.KeyParameter;
import org.bouncycastle.crypto.params.ParametersWithIV;
import tender.core.wire.ByteCursor;
import tender.core.wire.MalformedException;

/** How control packets are protected before TLS begins: not at all, by tls-auth, tls-crypt, or tls-crypt-v2. */
final class ControlChannelProtection {
    private static final int KEY_BYTES = 256;
    private static final int HALF = 128;
    private static final int HMAC_AT = 64;
    private static final int TAG = 32;
    private static final int MAX_WRAPPED = 1024;
    /** A first number that tells the server that the client can send its wrapped key again. */
    private static final int FIRST_V2 = 0x0f000001;

    private enum Kind {
        NONE,
        AUTH,
        CRYPT,
        CRYPT_V2
    }

    private final Kind kind;
    private final byte[] outCipher;
    private final byte[] outMac;
    private final byte[] inCipher;
    private final byte[] inMac;
    private final String digest;
    private final byte[] wrappedKey;
    private int next;

    private ControlChannelProtection(Kind kind, byte[] key, int out, int in, String digest, byte[] wrappedKey) {
        this.kind = kind;
        this.digest = digest;
        this.wrappedKey = wrappedKey;
        this.next = kind == Kind.CRYPT_V2 ? FIRST_V2 : 1;
        if (kind == Kind.NONE) {
            outCipher = outMac = inCipher = inMac = new byte[0];
            return;
        }
        int macBytes = kind == Kind.AUTH ? Digests.of(digest).getDigestSize() : 32;
        outCipher = Arrays.copyOfRange(key, out, out + 32);
        outMac = Arrays.copyOfRange(key, out + HMAC_AT, out + HMAC_AT + macBytes);
        inCipher = Arrays.copyOfRange(key, in, in + 32);
        inMac = Arrays.copyOfRange(key, in + HMAC_AT, in + HMAC_AT + macBytes);
    }

    static ControlChannelProtection none() {
        return new ControlChannelProtection(Kind.NONE, new byte[0], 0, 0, "", new byte[0]);
    }

    /** @param direction the client's own, 0 or 1; empty where both ends use the first half for both ways */
    static ControlChannelProtection auth(String keyText, Optional<Integer> direction, String digest) {
        int out = direction.orElse(0) == 1 ? HALF : 0;
        int in = direction.isEmpty() ? 0 : HALF - out;
        return new ControlChannelProtection(Kind.AUTH, staticKey(keyText), out, in, digest, new byte[0]);
    }

    static ControlChannelProtection crypt(String keyText) {
        return new ControlChannelProtection(Kind.CRYPT, staticKey(keyText), HALF, 0, "", new byte[0]);
    }

    /** A server's end of the same. */
    static ControlChannelProtection cryptOfServer(String keyText) {
        return new ControlChannelProtection(Kind.CRYPT, staticKey(keyText), 0, HALF, "", new byte[0]);
    }

    /** @param keyText a client's own key in PEM: the key, then the same wrapped for the server */
    static ControlChannelProtection cryptV2(String keyText) {
        String base64 = keyText.replaceAll("(?m)^-----.*-----\\s*$", "").replaceAll("\\s", "");
        byte[] all;
        try {
            all = Base64.getDecoder().decode(base64);
        } catch (IllegalArgumentException e) {
            throw new MalformedException("control-channel key", "tls-crypt-v2", "the key is not base64");
        }
        if (all.length <= KEY_BYTES || all.length > KEY_BYTES + MAX_WRAPPED) {
            throw new MalformedException("control-channel key", "tls-crypt-v2", "the key has a wrong length");
        }
        return new ControlChannelProtection(
                Kind.CRYPT_V2,
                Arrays.copyOf(all, KEY_BYTES),
                HALF,
                0,
                "",
                Arrays.copyOfRange(all, KEY_BYTES, all.length));
    }

    private static byte[] staticKey(String text) {
        String hex = text.replaceAll("(?m)^-----.*-----\\s*$", "")
                .replaceAll("(?m)^#.*$", "")
                .replaceAll("\\s", "");
        if (!hex.matches("[0-9A-Fa-f]{512}")) {
            throw new MalformedException("control-channel key", "key", "a static key has 2048 bits in hexadecimal");
        }
        return HexFormat.of().parseHex(hex);
    }

    int firstOpcode() {
        return kind == Kind.CRYPT_V2 ? ControlPacket.CLIENT_RESET_V3 : ControlPacket.CLIENT_RESET;
    }

    boolean protects() {
        return kind != Kind.NONE;
    }

    byte[] wrap(ControlPacket packet, Instant now) {
        byte[] header = packet.header();
        byte[] rest = packet.rest();
        byte[] number = ByteBuffer.allocate(8)
                .putInt(next)
                .putInt((int) now.getEpochSecond())
                .array();
        return switch (kind) {
            case NONE -> join(header, rest);
            case AUTH -> {
                next++;
                byte[] mac = mac(Digests.of(digest), outMac, number, header, rest);
                yield join(header, mac, number, rest);
            }
            case CRYPT, CRYPT_V2 -> {
                next++;
                byte[] tag = mac(new SHA256Digest(), outMac, header, number, rest);
                byte[] sealed = crypt(outCipher, tag, rest);
                boolean withKey = packet.opcode() == ControlPacket.CLIENT_RESET_V3
                        || packet.opcode() == ControlPacket.CONTROL_WITH_KEY;
                yield join(header, number, tag, sealed, withKey ? wrappedKey : new byte[0]);
            }
        };
    }

    /** Empty when it is not for us: protected by another key, or damaged. */
    Optional<ControlPacket> unwrap(byte[] packet) {
        try {
            ByteCursor in = new ByteCursor(packet);
            byte[] header = in.bytes(1 + ControlPacket.SESSION_BYTES);
            int opcode = (header[0] & 0xff) >>> 3;
            byte[] session = Arrays.copyOfRange(header, 1, header.length);
            byte[] rest;
            switch (kind) {
                case NONE -> rest = in.rest();
                case AUTH -> {
                    byte[] mac = in.bytes(Digests.of(digest).getDigestSize());
                    byte[] number = in.bytes(8);
                    rest = in.rest();
                    if (!MessageDigest.isEqual(mac, mac(Digests.of(digest), inMac, number, header, rest))) {
                        return Optional.empty();
                    }
                }
                default -> {
                    byte[] number = in.bytes(8);
                    byte[] tag = in.bytes(TAG);
                    rest = crypt(inCipher, tag, in.rest());
                    if (!MessageDigest.isEqual(tag, mac(new SHA256Digest(), inMac, header, number, rest))) {
                        return Optional.empty();
                    }
                }
            }
            return Optional.of(ControlPacket.read(opcode, session, rest));
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }

    private static byte[] mac(Digest digest, byte[] key, byte[]... parts) {
        HMac mac = new HMac(digest);
        mac.init(new KeyParameter(key));
        for (byte[] part : parts) {
            mac.update(part, 0, part.length);
        }
        byte[] out = new byte[mac.getMacSize()];
        mac.doFinal(out, 0);
        return out;
    }

    private static byte[] crypt(byte[] key, byte[] tag, byte[] in) {
        var cipher = SICBlockCipher.newInstance(AESEngine.newInstance());
        cipher.init(true, new ParametersWithIV(new KeyParameter(key), Arrays.copyOf(tag, 16)));
        byte[] out = new byte[in.length];
        cipher.processBytes(in, 0, in.length, out, 0);
        return out;
    }

    static byte[] join(byte[]... parts) {
        int length = 0;
        for (byte[] part : parts) {
            length += part.length;
        }
        ByteBuffer out = ByteBuffer.allocate(length);
        for (byte[] part : parts) {
            out.put(part);
        }
        return out.array();
    }
}
