package tender.core.ike;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import tender.core.wire.MalformedException;

/**
 * One algorithm of a proposal (RFC 7296 §3.3.2).
 *
 * @param keyBits of ciphers with keys of several lengths, else 0
 */
record Transform(int type, int id, int keyBits) {
    static final int CIPHER = 1;
    static final int PRF = 2;
    static final int INTEGRITY = 3;
    static final int GROUP = 4;
    static final int SEQUENCE = 5;

    static final int AES_CBC = 12;
    static final int AES_GCM = 20;
    static final int CHACHA20_POLY1305 = 28;

    /** Sequence numbers of 32 bits. */
    static final Transform SHORT_NUMBERS = new Transform(SEQUENCE, 0, 0);

    private static final Map<String, Integer> HASHES = Map.of("sha1", 2, "sha256", 5, "sha384", 6, "sha512", 7);
    private static final Map<String, Integer> MACS = Map.of("sha1", 2, "sha256", 12, "sha384", 13, "sha512", 14);
    private static final Map<String, Integer> GROUPS = Map.ofEntries(
            Map.entry("modp1024", 2),
            Map.entry("modp1536", 5),
            Map.entry("modp2048", 14),
            Map.entry("modp3072", 15),
            Map.entry("modp4096", 16),
            Map.entry("modp6144", 17),
            Map.entry("modp8192", 18),
            Map.entry("ecp256", 19),
            Map.entry("ecp384", 20),
            Map.entry("ecp521", 21),
            Map.entry("curve25519", 31),
            Map.entry("x25519", 31));

    /** A group's usual name, for people. */
    static String groupName(int id) {
        return GROUPS.entrySet().stream()
                .filter(e -> e.getValue() == id && !e.getKey().equals("x25519"))
                .map(Map.Entry::getKey)
                .findFirst()
                .orElse("group " + id);
    }

    boolean isAuthenticated() {
        return type == CIPHER && (id == AES_GCM || id == CHACHA20_POLY1305);
    }

    /** Reads one word of a proposal as it is written in settings, such as {@code aes256gcm16} or {@code prfsha384}. */
    static Transform parse(String word) {
        String w = word.toLowerCase(Locale.ROOT);
        if (w.matches("aes(128|192|256)?(gcm(16|128)?)?")) {
            String digits = w.replaceAll("^aes(\\d*).*$", "$1");
            int bits = digits.isEmpty() ? 128 : Integer.parseInt(digits);
            return new Transform(CIPHER, w.contains("gcm") ? AES_GCM : AES_CBC, bits);
        }
        if (w.equals("chacha20poly1305")) {
            return new Transform(CIPHER, CHACHA20_POLY1305, 0);
        }
        if (w.startsWith("prf") && HASHES.containsKey(w.substring(3))) {
            return new Transform(PRF, HASHES.get(w.substring(3)), 0);
        }
        if (MACS.containsKey(w.replaceAll("^sha2_", "sha"))) {
            return new Transform(INTEGRITY, MACS.get(w.replaceAll("^sha2_", "sha")), 0);
        }
        return Optional.ofNullable(GROUPS.get(w))
                .map(id -> new Transform(GROUP, id, 0))
                .orElseThrow(() -> new MalformedException("proposal", "proposals", word + " is not tried"));
    }

    /** The hash function of the same strength as an integrity algorithm, which is used where no other is named. */
    static Transform prfOf(Transform integrity) {
        int id = switch (integrity.id) {
            case 2 -> 2;
            case 13 -> 6;
            case 14 -> 7;
            default -> 5;
        };
        return new Transform(PRF, id, 0);
    }

    /** Name of the hash under a pseudo-random function or an integrity algorithm. */
    String hash() {
        List<String> names = List.of("SHA1", "SHA256", "SHA384", "SHA512");
        return type == PRF ? names.get(id == 2 ? 0 : id - 4) : names.get(id == 2 ? 0 : id - 11);
    }

    /** Bytes of an integrity algorithm's tag. */
    int tagBytes() {
        return switch (id) {
            case 2 -> 12;
            case 12 -> 16;
            case 13 -> 24;
            default -> 32;
        };
    }

    /** Bytes of an integrity algorithm's key. */
    int macKeyBytes() {
        return switch (id) {
            case 2 -> 20;
            case 12 -> 32;
            case 13 -> 48;
            default -> 64;
        };
    }

    /** Bytes of a cipher's key, with its salt. */
    int cipherKeyBytes() {
        return switch (id) {
            case AES_GCM -> keyBits / 8 + 4;
            case CHACHA20_POLY1305 -> 36;
            default -> keyBits / 8;
        };
    }

    /** Whether this implementation can do it. */
    boolean isKnown() {
        return switch (type) {
            case CIPHER ->
                id == CHACHA20_POLY1305
                        || (id == AES_CBC || id == AES_GCM) && (keyBits == 128 || keyBits == 192 || keyBits == 256);
            case PRF -> HASHES.containsValue(id);
            case INTEGRITY -> MACS.containsValue(id);
            case GROUP -> GROUPS.containsValue(id);
            default -> type == SEQUENCE && id == 0;
        };
    }

    String words() {
        return switch (type) {
            case CIPHER ->
                id == CHACHA20_POLY1305 ? "ChaCha20-Poly1305" : "AES-" + keyBits + (id == AES_GCM ? "-GCM" : "-CBC");
            case GROUP -> groupName(id);
            default -> hash();
        };
    }
}
