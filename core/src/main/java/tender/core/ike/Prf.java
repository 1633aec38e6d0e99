package tender.core.ike;

import java.io.ByteArrayOutputStream;
import java.util.Arrays;
import org.bouncycastle.crypto.Digest;
import org.bouncycastle.crypto.digests.SHA1Digest;
import org.bouncycastle.crypto.digests.SHA256Digest;
import org.bouncycastle.crypto.digests.SHA384Digest;
import org.bouncycastle.crypto.digests.SHA512Digest;
import org.bouncycastle.crypto.macs.HMac;
import org.bouncycastle.crypto.params.KeyParameter;

/** A pseudo-random function by HMAC, and the stream of keys out of it (RFC 7296 §2.13). */
record Prf(String hash) {
    static Digest digest(String hash) {
        return switch (hash) {
            case "SHA1" -> new SHA1Digest();
            case "SHA384" -> new SHA384Digest();
            case "SHA512" -> new SHA512Digest();
            default -> new SHA256Digest();
        };
    }

    static byte[] mac(String hash, byte[] key, byte[]... parts) {
        HMac mac = new HMac(digest(hash));
        mac.init(new KeyParameter(key));
        for (byte[] part : parts) {
            mac.update(part, 0, part.length);
        }
        byte[] out = new byte[mac.getMacSize()];
        mac.doFinal(out, 0);
        return out;
    }

    static byte[] hashed(String hash, byte[]... parts) {
        Digest digest = digest(hash);
        for (byte[] part : parts) {
            digest.update(part, 0, part.length);
        }
        byte[] out = new byte[digest.getDigestSize()];
        digest.doFinal(out, 0);
        return out;
    }

    byte[] of(byte[] key, byte[]... parts) {
        return mac(hash, key, parts);
    }

    int bytes() {
        return digest(hash).getDigestSize();
    }

    /** prf+ */
    byte[] stream(byte[] key, byte[] seed, int length) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        byte[] last = new byte[0];
        for (int i = 1; out.size() < length; i++) {
            last = of(key, last, seed, new byte[] {(byte) i});
            out.writeBytes(last);
        }
        return Arrays.copyOf(out.toByteArray(), length);
    }
}
