package tender.store.secret;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
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

    private final SecureRandom random = new SecureRandom();
    private volatile Ring ring;
    private volatile Runnable unknown = () -> {};

    /** The keys at hand; the newest encrypts. */
    private record Ring(Map<String, MasterKey> keys, MasterKey newest) {}

    /** @param keys newest last */
    public ColumnCipher(List<MasterKey> keys) {
        Map<String, MasterKey> all = new LinkedHashMap<>();
        keys.forEach(key -> all.put(key.id(), key));
        ring = new Ring(all, keys.get(keys.size() - 1));
    }

    /** Called when a value names a key that is not at hand, before it is looked for once more. */
    public void whenUnknown(Runnable look) {
        unknown = look;
    }

    /** The id of the key that encrypts. */
    public String newest() {
        return ring.newest().id();
    }

    /** The ids of all keys at hand. */
    public Set<String> ids() {
        return Set.copyOf(ring.keys().keySet());
    }

    /** Encrypts with this key from now on. */
    public synchronized void add(MasterKey key) {
        Map<String, MasterKey> all = new LinkedHashMap<>(ring.keys());
        all.put(key.id(), key);
        ring = new Ring(all, key);
    }

    /** Opens nothing any more but what the newest key encrypted. */
    public synchronized void dropOthers() {
        MasterKey newest = ring.newest();
        ring = new Ring(Map.of(newest.id(), newest), newest);
    }

    /** @param row what names the row, as it stands in the database */
    public byte[] seal(Secret value, EncryptedColumn column, Object row) {
        return sealAt(value, column.place(row));
    }

    byte[] sealAt(Secret value, String place) {
        MasterKey newest = ring.newest();
        byte[] nonce = new byte[NONCE_BYTES];
        random.nextBytes(nonce);
        byte[] id = newest.id().getBytes(StandardCharsets.US_ASCII);
        byte[] sealed = crypt(Cipher.ENCRYPT_MODE, newest, nonce, place, value.reveal(RevealSecret.TO_ENCRYPT));
        return ByteBuffer.allocate(1 + id.length + NONCE_BYTES + sealed.length)
                .put(prefix(newest.id()))
                .put(nonce)
                .put(sealed)
                .array();
    }

    /** How every value begins that a key encrypted. */
    static byte[] prefix(String keyId) {
        byte[] id = keyId.getBytes(StandardCharsets.US_ASCII);
        return ByteBuffer.allocate(1 + id.length).put((byte) id.length).put(id).array();
    }

    /**
     * @param row what the value was sealed for; another row's value does not open
     * @throws StoreException where no key at hand opens it, or it was changed
     */
    public Secret open(byte[] stored, EncryptedColumn column, Object row) {
        return openAt(stored, column.place(row));
    }

    Secret openAt(byte[] stored, String place) {
        ByteBuffer in = ByteBuffer.wrap(stored);
        byte[] id = new byte[in.get()];
        in.get(id);
        byte[] nonce = new byte[NONCE_BYTES];
        in.get(nonce);
        byte[] sealed = new byte[in.remaining()];
        in.get(sealed);
        String keyId = new String(id, StandardCharsets.US_ASCII);
        if (!ring.keys().containsKey(keyId)) {
            unknown.run();
        }
        MasterKey key = ring.keys().get(keyId);
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
