package tender.core.profile;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;

/**
 * Whether OpenVPN 2.6 takes a file's lines at all, by its own parser: how lines are cut into words, which directives there are,
 * how many words they take and where they may stand; and whether a client begins with what they say.
 */
public final class OpenVpnRules {
    private static final int LINE = OpenVpnWords.MOST_BYTES;
    private static final String BOM = "\u00ef\u00bb\u00bf";

    private final String text;
    private final boolean connection;
    private final Set<String> ignored;
    private int at;
    private int line;
    private boolean remote;

    private OpenVpnRules(String text, boolean connection, Set<String> ignored) {
        this.text = text;
        this.connection = connection;
        this.ignored = ignored;
    }

    /** Why it does not begin with the file; empty where it does, parts in other files aside. */
    public static Optional<ParseProblem> refusal(String text) {
        return lines(text)
                .or(() -> OpenVpnTogether.refusal(OpenVpnFile.read(text).file()));
    }

    /** The first line that ends it; empty where every line is taken, whatever they say together. */
    public static Optional<ParseProblem> lines(String text) {
        String bytes = new String(text.getBytes(StandardCharsets.UTF_8), StandardCharsets.ISO_8859_1);
        return new OpenVpnRules(bytes.startsWith(BOM) ? bytes.substring(BOM.length()) : bytes, false, new HashSet<>())
                .first();
    }

    private Optional<ParseProblem> first() {
        while (at < text.length()) {
            int began = line + 1;
            try {
                String read = next();
                if (read.length() == LINE) {
                    throw new MalformedException("line", "", "a line longer than " + (LINE - 1) + " bytes");
                }
                List<String> words = OpenVpnWords.of(read);
                if (!words.isEmpty()) {
                    directive(words);
                }
            } catch (MalformedException e) {
                return Optional.of(new ParseProblem(began, "refused", e.what()));
            }
        }
        return Optional.empty();
    }

    /** As fgets(3) reads: a line with its end, or as much of it as fits; what follows a NUL in it is lost. */
    private String next() {
        int most = Math.min(text.length(), at + LINE);
        int end = text.indexOf('\n', at);
        int to = end >= 0 && end < most ? end + 1 : most;
        String read = text.substring(at, to);
        at = to;
        if (read.endsWith("\n") || at == text.length()) {
            line++;
        }
        int nul = read.indexOf('\0');
        return nul >= 0 ? read.substring(0, nul) : read;
    }

    private void directive(List<String> words) {
        String name = words.get(0);
        if (name.length() >= 3 && name.startsWith("--")) {
            name = name.substring(2);
        }
        Optional<String> block = Optional.empty();
        List<String> values = new ArrayList<>(words.subList(1, words.size()));
        if (values.isEmpty() && name.startsWith("<") && name.endsWith(">") && name.length() > 1) {
            name = name.substring(1, name.length() - 1);
            block = Optional.of(block("</" + name + ">"));
            values.add("[[INLINE]]");
        }
        boolean lenient = false;
        if (name.equals("setenv") && values.size() > 0 && values.get(0).equals("opt")) {
            lenient = true;
            name = values.size() > 1 ? values.get(1) : "setenv opt";
            values = values.size() > 1 ? values.subList(2, values.size()) : List.of();
        }
        if (name.equals("ignore-unknown-option")) {
            ignored.addAll(values);
        }
        lenient |= ignored.contains(name);
        if (!lenient) {
            judge(name, values, block.isPresent());
        }
        remote |= name.equals("remote");
        if (name.equals("connection") && block.isPresent()) {
            OpenVpnRules inside = new OpenVpnRules(block.get(), true, ignored);
            Optional<ParseProblem> refused = inside.first();
            if (refused.isPresent()) {
                throw new MalformedException(
                        "line",
                        "",
                        "in the block <connection>: " + refused.get().what());
            }
            if (!inside.remote) {
                throw new MalformedException("line", "", "a block <connection> without remote");
            }
        }
    }

    private void judge(String name, List<String> values, boolean inline) {
        OpenVpnDirectives.Shape shape = OpenVpnDirectives.named(name).orElse(null);
        if (shape == null) {
            throw new MalformedException("line", "", "a directive that OpenVPN 2.6 does not know");
        }
        if (!shape.takes(values.size())) {
            throw new MalformedException("line", "", name + " takes " + words(shape));
        }
        if (shape.perClient()) {
            throw new MalformedException("line", "", name + " may stand in a server's file for one client alone");
        }
        if (inline && !shape.inline()) {
            throw new MalformedException("line", "", name + " may not stand in a block");
        }
        if (connection && !shape.inConnection()) {
            throw new MalformedException("line", "", name + " may not stand in a block <connection>");
        }
    }

    private static String words(OpenVpnDirectives.Shape shape) {
        String few = Integer.toString(shape.fewest());
        String unit = shape.most() == 1 ? " word" : " words";
        return shape.most() == 0
                ? "no words"
                : (shape.most() == Integer.MAX_VALUE
                                ? few + " or more"
                                : shape.fewest() == shape.most()
                                        ? few
                                        : few + (shape.between() ? " to " : " or ") + shape.most())
                        + unit;
    }

    /** What stands before the line that begins with its end. */
    private String block(String end) {
        StringBuilder out = new StringBuilder();
        while (at < text.length()) {
            String read = next();
            int from = 0;
            while (from < read.length() && OpenVpnWords.isSpace(read.charAt(from))) {
                from++;
            }
            if (read.startsWith(end, from)) {
                return out.toString();
            }
            out.append(read);
        }
        throw new MalformedException("line", "", "a block that is not closed");
    }
}
