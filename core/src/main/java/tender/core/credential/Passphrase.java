package tender.core.credential;

import java.security.SecureRandom;

/** A passphrase that is easy to read out over a telephone: groups of letters and digits without look-alikes. */
public final class Passphrase {
    private static final String ALPHABET = "abcdefghjkmnpqrstuvwxyz23456789";
    private static final int GROUPS = 4;
    private static final int GROUP_LENGTH = 4;

    private Passphrase() {}

    /** 16 characters of 31, about 79 bits. */
    public static Secret generate(SecureRandom random) {
        StringBuilder text = new StringBuilder();
        for (int group = 0; group < GROUPS; group++) {
            if (group > 0) {
                text.append('-');
            }
            for (int i = 0; i < GROUP_LENGTH; i++) {
                text.append(ALPHABET.charAt(random.nextInt(ALPHABET.length())));
            }
        }
        return Secret.of(text.toString());
    }

    /** What a person typed, forgiving capitals and spaces around or in place of the hyphens. */
    public static String normalise(String typed) {
        return typed.strip().toLowerCase(java.util.Locale.ROOT).replaceAll("[\\s-]+", "-");
    }
}
