package tender.core.openvpn;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Optional;
import org.bouncycastle.crypto.Digest;
import org.bouncycastle.crypto.digests.MD5Digest;
import org.bouncycastle.crypto.digests.SHA1Digest;
import org.bouncycastle.crypto.macs.HMac;
import org.bouncycastle.crypto.params.KeyParameter;
import tender.core.wire.ByteCursor;
import tender.core.wire.MalformedException;

/** The exchange by which both ends agree on data keys inside TLS: key method 2, and the older derivation of keys from it. */
final class KeyExchange {
    static final int KEYS_BYTES = 256;
    private static final int METHOD = 2;
    private static final int PRE_MASTER = 48;
    private static final int RANDOM = 32;
    private static final int MAX_TEXT = 8_192;

    private final byte[] preMaster = new byte[PRE_MASTER];
    private final byte[] random1 = new byte[RANDOM];
    private final byte[] random2 = new byte[RANDOM];

    KeyExchange(SecureRandom random) {
        random.nextBytes(preMaster);
        random.nextBytes(random1);
        random.nextBytes(random2);
    }

    /** A server's half. */
    record Server(byte[] random1, byte[] random2, String options) {}

    /** A client's half, as a server reads it. */
    record Client(byte[] preMaster, byte[] random1, byte[] random2, String user, byte[] password, String peerInfo) {}

    /** Reads a client's message off the front of what came; empty while it is not whole. */
    static Optional<Client> readClient(byte[] came, ByteArrayOutputStream left) {
        try {
            ByteCursor in = new ByteCursor(came);
            in.skip(4);
            if (in.u8() != METHOD) {
                throw new MalformedException("openvpn", "key method", "the client speaks another key method than 2");
            }
            byte[] preMaster = in.bytes(PRE_MASTER);
            byte[] first = in.bytes(RANDOM);
            byte[] second = in.bytes(RANDOM);
            in.bytes(in.u16());
            byte[] user = in.bytes(in.u16());
            byte[] password = in.bytes(in.u16());
            byte[] peerInfo = in.bytes(in.u16());
            left.writeBytes(in.rest());
            return Optional.of(new Client(
                    preMaster,
                    first,
                    second,
                    new String(user, StandardCharsets.UTF_8).replace("\0", ""),
                    password.length == 0 ? password : Arrays.copyOf(password, password.length - 1),
                    new String(peerInfo, StandardCharsets.UTF_8).replace("\0", "")));
        } catch (MalformedException e) {
            if (e.place().startsWith("offset")) {
                return Optional.empty(); // the rest is still on its way
            }
            throw e;
        }
    }

    /** A server's message. */
    byte[] answer(String options) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        out.writeBytes(new byte[4]);
        out.write(METHOD);
        out.writeBytes(random1);
        out.writeBytes(random2);
        text(out, options.getBytes(StandardCharsets.UTF_8));
        text(out, new byte[0]);
        text(out, new byte[0]);
        text(out, new byte[0]);
        return out.toByteArray();
    }

    /** A server's derivation of the same keys as {@link #keys(Server, byte[], byte[])}. */
    byte[] keys(Client client, byte[] clientSession, byte[] serverSession) {
        return keys(
                client.preMaster(),
                client.random1(),
                client.random2(),
                new Server(random1, random2, ""),
                clientSession,
                serverSession);
    }

    /** The client's message. Name and password are empty where the listener asks for none. */
    byte[] message(String options, String user, byte[] password, String peerInfo) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        out.writeBytes(new byte[4]);
        out.write(METHOD);
        out.writeBytes(preMaster);
        out.writeBytes(random1);
        out.writeBytes(random2);
        text(out, options.getBytes(StandardCharsets.UTF_8));
        text(out, user.getBytes(StandardCharsets.UTF_8));
        text(out, password);
        text(out, peerInfo.getBytes(StandardCharsets.UTF_8));
        return out.toByteArray();
    }

    private static void text(ByteArrayOutputStream out, byte[] text) {
        int length = text.length == 0 ? 0 : text.length + 1;
        out.write(length >>> 8);
        out.write(length);
        if (length > 0) {
            out.writeBytes(text);
            out.write(0);
        }
    }

    /** Reads the server's half off the front of what came; empty while it is not whole. {@code left} gets what follows. */
    static Optional<Server> read(byte[] came, ByteArrayOutputStream left) {
        int fixed = 4 + 1 + 2 * RANDOM + 2;
        if (came.length < fixed) {
            return Optional.empty();
        }
        ByteCursor in = new ByteCursor(came);
        in.skip(4);
        if (in.u8() != METHOD) {
            throw new MalformedException("openvpn", "key method", "the server speaks another key method than 2");
        }
        byte[] random1 = in.bytes(RANDOM);
        byte[] random2 = in.bytes(RANDOM);
        int length = in.u16();
        if (length > MAX_TEXT) {
            throw new MalformedException("openvpn", "options", "the server's options are too long");
        }
        if (in.remaining() < length) {
            return Optional.empty();
        }
        String options = new String(in.bytes(length), StandardCharsets.UTF_8).replace("\0", "");
        // a server may send name, password and peer information of its own; all of it comes in the same message
        left.writeBytes(rest(in));
        return Optional.of(new Server(random1, random2, options));
    }

    private static byte[] rest(ByteCursor in) {
        byte[] rest = in.rest();
        int at = 0;
        while (at + 2 <= rest.length) {
            int length = (rest[at] & 0xff) << 8 | rest[at + 1] & 0xff;
            boolean isText = rest[at] >= 0x20; // a control message begins with a letter, a length with a small number
            if (isText || at + 2 + length > rest.length) {
                break;
            }
            at += 2 + length;
        }
        return Arrays.copyOfRange(rest, at, rest.length);
    }

    /** Both ends' data keys from the exchanged randoms (TLS 1.0's pseudo-random function, RFC 2246 §5). */
    byte[] keys(Server server, byte[] clientSession, byte[] serverSession) {
        return keys(preMaster, random1, random2, server, clientSession, serverSession);
    }

    private static byte[] keys(
            byte[] preMaster, byte[] first, byte[] second, Server server, byte[] clientSession, byte[] serverSession) {
        byte[] master = prf(
                preMaster, "OpenVPN master secret", ControlChannelProtection.join(first, server.random1()), PRE_MASTER);
        return prf(
                master,
                "OpenVPN key expansion",
                ControlChannelProtection.join(second, server.random2(), clientSession, serverSession),
                KEYS_BYTES);
    }

    private static byte[] prf(byte[] secret, String label, byte[] seed, int length) {
        byte[] input = ControlChannelProtection.join(label.getBytes(StandardCharsets.US_ASCII), seed);
        int half = (secret.length + 1) / 2;
        byte[] out = expanded(new MD5Digest(), Arrays.copyOf(secret, half), input, length);
        byte[] other = expanded(
                new SHA1Digest(), Arrays.copyOfRange(secret, secret.length - half, secret.length), input, length);
        for (int i = 0; i < length; i++) {
            out[i] ^= other[i];
        }
        return out;
    }

    private static byte[] expanded(Digest digest, byte[] secret, byte[] seed, int length) {
        HMac mac = new HMac(digest);
        mac.init(new KeyParameter(secret));
        byte[] out = new byte[length];
        byte[] a = seed;
        byte[] block = new byte[mac.getMacSize()];
        for (int at = 0; at < length; at += block.length) {
            mac.update(a, 0, a.length);
            a = new byte[block.length];
            mac.doFinal(a, 0);
            mac.update(a, 0, a.length);
            mac.update(seed, 0, seed.length);
            mac.doFinal(block, 0);
            System.arraycopy(block, 0, out, at, Math.min(block.length, length - at));
        }
        return out;
    }
}
