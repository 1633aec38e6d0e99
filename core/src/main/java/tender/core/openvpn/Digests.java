package tender.core.openvpn;

import java.util.Locale;
import org.bouncycastle.crypto.Digest;
import org.bouncycastle.crypto.digests.MD5Digest;
import org.bouncycastle.crypto.digests.SHA1Digest;
import org.bouncycastle.crypto.digests.SHA224Digest;
import org.bouncycastle.crypto.digests.SHA256Digest;
import org.bouncycastle.crypto.digests.SHA384Digest;
import org.bouncycastle.crypto.digests.SHA512Digest;
import tender.core.wire.MalformedException;

/** Digests by the names that OpenVPN's files give them. */
final class Digests {
    private Digests() {}

    static Digest of(String name) {
        return switch (name.toUpperCase(Locale.ROOT).replaceAll("^RSA-", "").replace("-", "")) {
            case "MD5" -> new MD5Digest();
            case "SHA1" -> new SHA1Digest();
            case "SHA224" -> new SHA224Digest();
            case "SHA256" -> new SHA256Digest();
            case "SHA384" -> new SHA384Digest();
            case "SHA512" -> new SHA512Digest();
            default -> throw new MalformedException("digest", "auth", "not a digest that is known here");
        };
    }
}
