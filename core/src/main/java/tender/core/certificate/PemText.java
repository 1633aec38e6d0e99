package tender.core.certificate;

import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tender.core.wire.Problem;

/** Text with objects in PEM (RFC 7468); words around the objects are passed over, as that RFC allows. */
public final class PemText {
    private static final int MAX_LINES = 100_000;
    private static final int MAX_BLOCKS = 2_000;
    private static final int WIDTH = 64;
    private static final String BEGIN = "-----BEGIN ";
    private static final String END = "-----END ";
    private static final String DASHES = "-----";

    /** One object: its label, the old headers such as Proc-Type, its bytes, and its lines counted from 1. */
    public record Block(String label, Map<String, String> headers, byte[] der, int line, int lastLine) {}

    /** What was read, and which objects could not be. */
    public record Reading(List<Block> blocks, List<Problem> problems) {}

    private PemText() {}

    public static Reading read(String text) {
        List<Block> blocks = new ArrayList<>();
        List<Problem> problems = new ArrayList<>();
        String[] lines = text.split("\n", MAX_LINES + 1);
        int count = Math.min(lines.length, MAX_LINES);
        for (int i = 0; i < count && blocks.size() < MAX_BLOCKS; i++) {
            String line = lines[i].strip();
            if (!line.startsWith(BEGIN)
                    || !line.endsWith(DASHES)
                    || line.length() <= BEGIN.length() + DASHES.length()) {
                continue;
            }
            String label = line.substring(BEGIN.length(), line.length() - DASHES.length());
            int end = i + 1;
            while (end < count && !lines[end].strip().startsWith(DASHES)) {
                end++;
            }
            if (end == count || !lines[end].strip().equals(END + label + DASHES)) {
                problems.add(new Problem(i + 1, "pem", "the object that begins here has no end of its own"));
                i = end - 1;
                continue;
            }
            block(label, lines, i, end, blocks, problems);
            i = end;
        }
        return new Reading(List.copyOf(blocks), List.copyOf(problems));
    }

    private static void block(
            String label, String[] lines, int begin, int end, List<Block> blocks, List<Problem> problems) {
        Map<String, String> headers = new LinkedHashMap<>();
        StringBuilder content = new StringBuilder();
        for (int i = begin + 1; i < end; i++) {
            String line = lines[i].strip();
            int colon = line.indexOf(": ");
            if (colon > 0) {
                headers.put(line.substring(0, colon), line.substring(colon + 2));
            } else {
                content.append(line);
            }
        }
        try {
            byte[] der = Base64.getDecoder().decode(content.toString());
            blocks.add(new Block(label, headers, der, begin + 1, end + 1));
        } catch (IllegalArgumentException e) {
            problems.add(new Problem(begin + 1, "pem", "the object that begins here is not whole base64"));
        }
    }

    public static String write(String label, byte[] der) {
        return BEGIN + label + DASHES + "\n"
                + Base64.getMimeEncoder(WIDTH, new byte[] {'\n'}).encodeToString(der) + "\n" + END + label + DASHES
                + "\n";
    }
}
