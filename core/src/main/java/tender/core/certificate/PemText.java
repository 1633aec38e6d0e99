package tender.core.certificate;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tender.core.wire.ParseProblem;

/**
 * Text with objects in PEM (RFC 7468), read as OpenSSL 3.0 reads it; words around the objects are passed over, as that RFC
 * allows.
 */
public final class PemText {
    private static final int MAX_LINES = 100_000;
    private static final int MAX_BLOCKS = 2_000;
    private static final int WIDTH = 64;
    private static final byte SEQUENCE = 0x30;
    private static final String BEGIN = "-----BEGIN ";
    private static final String END = "-----END ";
    private static final String DASHES = "-----";
    private static final String BOM = "\ufeff";

    /** One object: its label, the old headers such as Proc-Type, its bytes, and its lines counted from 1. */
    public record Block(String label, Map<String, String> headers, byte[] der, int line, int lastLine) {}

    /** What was read, and which objects could not be. */
    public record Reading(List<Block> blocks, List<ParseProblem> problems) {}

    private PemText() {}

    /** All PEM objects in a text (RFC 7468), and what was wrong with others, by line. Never throws. */
    public static Reading read(String text) {
        List<Block> blocks = new ArrayList<>();
        List<ParseProblem> problems = new ArrayList<>();
        String[] lines = text.split("\n", MAX_LINES + 1);
        int count = Math.min(lines.length, MAX_LINES);
        for (int i = 0; i < count && blocks.size() < MAX_BLOCKS; i++) {
            String line = bare(lines[i].startsWith(BOM) ? lines[i].substring(1) : lines[i]);
            if (!line.startsWith(BEGIN)) {
                if (line.strip().startsWith(BEGIN)) {
                    problems.add(new ParseProblem(i + 1, "pem", "an object that begins here does not begin its line"));
                }
                continue;
            }
            if (!line.endsWith(DASHES) || line.length() < BEGIN.length() + DASHES.length()) {
                if (line.contains(END)) {
                    problems.add(new ParseProblem(
                            i + 1, "pem", "the object stands on one line; programs want lines of 64 letters"));
                }
                continue;
            }
            String label = line.substring(BEGIN.length(), line.length() - DASHES.length());
            int end = i + 1;
            while (end < count && !bare(lines[end]).startsWith(END)) {
                end++;
            }
            if (end == count || !bare(lines[end]).equals(END + label + DASHES)) {
                problems.add(new ParseProblem(i + 1, "pem", "the object that begins here has no end of its own"));
                continue;
            }
            block(label, lines, i, end, blocks, problems);
            i = end;
        }
        return new Reading(List.copyOf(blocks), List.copyOf(problems));
    }

    /** A line without what programs pass over at its end: blanks, control characters, and whatever is no ASCII. */
    private static String bare(String line) {
        int nul = line.indexOf('\0');
        int end = nul < 0 ? line.length() : nul;
        while (end > 0 && (line.charAt(end - 1) <= ' ' || line.charAt(end - 1) >= 0x80)) {
            end--;
        }
        return line.substring(0, end);
    }

    /** Headers are there where a colon is, up to the one empty line that may be. */
    private static void block(
            String label, String[] lines, int begin, int end, List<Block> blocks, List<ParseProblem> problems) {
        Map<String, String> headers = new LinkedHashMap<>();
        StringBuilder content = new StringBuilder();
        boolean behind = false;
        boolean inside = false;
        boolean shortLine = false;
        String wrong = "";
        for (int i = begin + 1; i < end; i++) {
            String line = bare(lines[i]);
            if (line.isEmpty()) {
                wrong = behind
                        ? "two empty lines in the object"
                        : content.length() > 0 ? "an empty line in the object" : wrong;
                behind = true;
                inside = false;
                continue;
            }
            int colon = line.indexOf(':');
            if (!behind && colon >= 0 && content.length() > 0) {
                wrong = "a header behind what the object holds";
            } else if (!behind && colon >= 0) {
                inside = true;
                headers.put(line.substring(0, colon), line.substring(colon + 1).strip());
            } else if (inside) {
                continue; // goes on with a header
            } else {
                wrong = behind && (shortLine || line.length() > WIDTH) ? "lines of other lengths in the object" : wrong;
                shortLine = behind && line.length() < WIDTH;
                content.append(line);
            }
        }
        if (inside) {
            wrong = "headers and no empty line behind them";
        } else if (!headers.isEmpty() && !headers.containsKey("Proc-Type")) {
            wrong = "headers that programs do not take";
        }
        byte[] der = wrong.isEmpty() ? Base64Text.read(content) : null;
        if (der == null) {
            problems.add(new ParseProblem(
                    begin + 1, "pem", wrong.isEmpty() ? "the object that begins here is not whole base64" : wrong));
        } else {
            boolean locked = headers.containsKey("Proc-Type"); // its bytes are no DER, whatever they begin with
            blocks.add(new Block(label, headers, locked ? der : whole(der), begin + 1, end + 1));
        }
    }

    /** An object in DER without what stands behind it, which programs pass over (X.690 8.1.3). */
    public static byte[] whole(byte[] der) {
        if (der.length < 2 || der[0] != SEQUENCE) {
            return der;
        }
        int first = der[1] & 0xff;
        int more = first < 0x80 ? 0 : first - 0x80;
        if (more > 4 || more == 0 && first == 0x80 || der.length < 2 + more) {
            return der;
        }
        long length = more == 0 ? first : 0;
        for (int i = 0; i < more; i++) {
            length = length << 8 | der[2 + i] & 0xff;
        }
        long end = 2 + more + length;
        return end < der.length ? Arrays.copyOf(der, (int) end) : der;
    }

    public static String write(String label, byte[] der) {
        return BEGIN + label + DASHES + "\n"
                + Base64.getMimeEncoder(WIDTH, new byte[] {'\n'}).encodeToString(der) + "\n" + END + label + DASHES
                + "\n";
    }
}
