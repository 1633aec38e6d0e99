package tender.core.profile;

import java.security.SecureRandom;
import java.util.HexFormat;

/** A key of 2048 bits shared by a server and all its clients, in the text form that OpenVPN documents. */
public final class StaticKey {
    private static final int BYTES = 256;
    private static final int LINE = 16;

    private StaticKey() {}

    public static String generate(SecureRandom random) {
        byte[] key = new byte[BYTES];
        random.nextBytes(key);
        StringBuilder out = new StringBuilder("-----BEGIN OpenVPN Static key V1-----\n");
        for (int i = 0; i < BYTES; i += LINE) {
            out.append(HexFormat.of().formatHex(key, i, i + LINE)).append('\n');
        }
        return out.append("-----END OpenVPN Static key V1-----\n").toString();
    }
}
