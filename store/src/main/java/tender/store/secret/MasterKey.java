package tender.store.secret;

import java.util.HexFormat;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;

/** A key that encrypts columns, with the id that values carry. Written {@code ID:HEX}, 32 bytes in hex. */
public record MasterKey(String id, Secret key) {
    static final int BYTES = 32;

    public MasterKey {
        if (!id.matches("[a-z0-9]{1,16}") || key.length() != BYTES) {
            throw malformed();
        }
    }

    /**
     * @param text {@code ID:HEX}, 32 bytes
     * @throws tender.core.wire.MalformedException where it is not that
     */
    public static MasterKey parse(String text) {
        int colon = text.indexOf(':');
        if (colon < 1 || !text.substring(colon + 1).matches("[0-9a-f]{64}")) {
            throw malformed();
        }
        return new MasterKey(text.substring(0, colon), Secret.of(HexFormat.of().parseHex(text.substring(colon + 1))));
    }

    /** As it is written in a key file. */
    public String text() {
        return id + ":" + HexFormat.of().formatHex(bytes());
    }

    byte[] bytes() {
        return key.reveal(RevealSecret.TO_ENCRYPT);
    }

    private static MalformedException malformed() {
        return new MalformedException(
                "master-key", "", "a master key is written ID:HEX with 32 bytes in lower-case hex");
    }
}
