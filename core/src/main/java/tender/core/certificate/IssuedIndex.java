package tender.core.certificate;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import tender.core.wire.MalformedException;

/**
 * The index of issued certificates that {@code openssl ca} keeps (ca(1), "database"): one line a certificate, parted by tabs:
 * state, expiry, date and reason of the revocation, serial, file, subject.
 */
public final class IssuedIndex {
    private static final int MAX_LINES = 1_000_000;
    private static final int FIELDS = 6;
    private static final Map<String, Integer> REASONS = Map.of(
            "unspecified", 0,
            "keyCompromise", 1,
            "CACompromise", 2,
            "affiliationChanged", 3,
            "superseded", 4,
            "cessationOfOperation", 5,
            "certificateHold", 6,
            "removeFromCRL", 8);

    private IssuedIndex() {}

    /** Those that are revoked. */
    public static List<Authority.Revoked> revoked(String text) {
        List<Authority.Revoked> out = new ArrayList<>();
        String[] lines = text.split("\r?\n", MAX_LINES + 1);
        for (int i = 0; i < lines.length; i++) {
            String[] fields = lines[i].split("\t", -1);
            if (lines[i].isBlank()) {
                continue;
            }
            if (i >= MAX_LINES || fields.length != FIELDS || !fields[0].matches("[VRE]")) {
                throw new MalformedException("index", "line " + (i + 1), "is no line of an index of certificates");
            }
            if (fields[0].equals("R")) {
                out.add(revoked(fields, i + 1));
            }
        }
        return out;
    }

    private static Authority.Revoked revoked(String[] fields, int line) {
        String[] when = fields[2].split(",");
        if (!fields[3].matches("[0-9A-Fa-f]{1,64}")) {
            throw new MalformedException("index", "line " + line, "has no serial number");
        }
        int reason = when.length > 1 ? REASONS.getOrDefault(when[1], 0) : 0;
        return new Authority.Revoked(new java.math.BigInteger(fields[3], 16).toString(16), time(when[0], line), reason);
    }

    /** {@code YYMMDDHHMMSSZ} or {@code YYYYMMDDHHMMSSZ} (RFC 5280 §4.1.2.5). */
    private static Instant time(String text, int line) {
        try {
            String whole = text.length() == 13 ? (text.compareTo("5") < 0 ? "20" : "19") + text : text;
            return LocalDateTime.parse(whole, DateTimeFormatter.ofPattern("yyyyMMddHHmmss'Z'"))
                    .toInstant(ZoneOffset.UTC);
        } catch (DateTimeException e) {
            throw new MalformedException("index", "line " + line, "has no date of revocation");
        }
    }
}
