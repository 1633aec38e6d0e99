package tender.store.secret;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.store.jdbc.StoreException;

/** Encrypts with the newest master key, opens with any. Safe for several threads. */
public final class ColumnCipher {
    private static final int NONCE_BYTES = 12;
    private static final int TAG_BITS = 128;

    private final Map<String, MasterKey> keys = new LinkedHashMap<>();
    private final MasterKey newest;
    private final SecureRandom random = new SecureRandom();

    /** @param keys newest last */
    public ColumnCipher(List<MasterKey> keys) {
        keys.forEach(key -> this.keys.put(key.id(), key));
        newest = keys.get(keys.size() - 1);
    }

    /** @param place table, column and row, as {@code table.column/id}: a value moved elsewhere doesn't open */
    public byte[] seal(Secret value, String place) {
        byte[] nonce = new byte[NONCE_BYTES];
        random.nextBytes(nonce);
        byte[] id = newest.id().getBytes(StandardCharsets.US_ASCII);
        byte[] sealed = crypt(Cipher.ENCRYPT_MODE, newest, nonce, place, value.reveal(RevealSecret.TO_ENCRYPT));
        return ByteBuffer.allocate(1 + id.length + NONCE_BYTES + sealed.length)
                .put((byte) id.length)
                .put(id)
                .put(nonce)
                .put(sealed)
                .array();
    }

    public Secret open(byte[] stored, String place) {
        ByteBuffer in = ByteBuffer.wrap(stored);
        byte[] id = new byte[in.get()];
        in.get(id);
        byte[] nonce = new byte[NONCE_BYTES];
        in.get(nonce);
        byte[] sealed = new byte[in.remaining()];
        in.get(sealed);
        MasterKey key = keys.get(new String(id, StandardCharsets.US_ASCII));
        if (key == null) {
            throw new StoreException(place + " was encrypted with a master key that is not at hand", null);
        }
        return Secret.of(crypt(Cipher.DECRYPT_MODE, key, nonce, place, sealed));
    }

    private static byte[] crypt(int mode, MasterKey key, byte[] nonce, String place, byte[] input) {
        try {
            Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
            cipher.init(mode, new SecretKeySpec(key.bytes(), "AES"), new GCMParameterSpec(TAG_BITS, nonce));
            cipher.updateAAD(place.getBytes(StandardCharsets.UTF_8));
            return cipher.doFinal(input);
        } catch (GeneralSecurityException e) {
            throw new StoreException(place + " does not open: changed, moved, or another master key", e);
        }
    }
}
