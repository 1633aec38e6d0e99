package tender.client;

import java.io.BufferedReader;
import java.io.Console;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Option;
import tender.api.ProblemCode;
import tender.core.credential.Secret;

/** How commands speak: results on stdout as a table or as JSON, all else on stderr; secrets asked for without echo. */
final class Terminal {
    private static final String UNDERLINE = "\033[4m";
    private static final String RESET = "\033[0m";

    @Option(names = "--json", description = "Print JSON for programs instead of a table for people.")
    boolean json;

    @Option(
            names = {"-q", "--quiet"},
            description = "Print results only.")
    boolean quiet;

    @Option(names = "--no-colour", description = "No colours or underlines; NO_COLOR does the same.")
    boolean plain;

    private final PrintStream out =
            new PrintStream(new java.io.FileOutputStream(java.io.FileDescriptor.out), true, StandardCharsets.UTF_8);
    private final PrintStream err =
            new PrintStream(new java.io.FileOutputStream(java.io.FileDescriptor.err), true, StandardCharsets.UTF_8);

    boolean isTerminal() {
        return System.console() != null;
    }

    private boolean isStyled() {
        return !plain && isTerminal() && System.getenv("NO_COLOR") == null;
    }

    String colour(int code, String text) {
        return isStyled() ? "\033[" + code + "m" + text + RESET : text;
    }

    void print(String text) {
        out.println(text);
    }

    void json(Object value) {
        out.println(Json.pretty(value));
    }

    /** Said to people only: hints, progress, what happens next. */
    void say(String text) {
        if (!quiet) {
            err.println(text);
        }
    }

    /** Columns as wide as their contents; the last one is cut to the terminal's width. */
    void table(List<String> heads, List<List<String>> rows, String whenEmpty) {
        if (rows.isEmpty()) {
            say(whenEmpty);
            return;
        }
        int columns = heads.size();
        int[] widths = new int[columns];
        for (int c = 0; c < columns; c++) {
            widths[c] = heads.get(c).length();
            for (List<String> row : rows) {
                widths[c] = Math.max(widths[c], row.get(c).length());
            }
        }
        out.println(line(heads, widths, isStyled()));
        rows.forEach(row -> out.println(line(row, widths, false)));
    }

    private String line(List<String> cells, int[] widths, boolean head) {
        StringBuilder text = new StringBuilder();
        for (int c = 0; c < cells.size(); c++) {
            boolean last = c == cells.size() - 1;
            String cell = cells.get(c);
            int room = width() - text.length();
            if (last && isTerminal() && cell.length() > room && room > 4) {
                cell = cell.substring(0, room - 1) + "…";
            }
            String shown = head && !cell.isEmpty() ? UNDERLINE + cell + RESET : cell;
            text.append(shown)
                    .append(last ? "" : " ".repeat(widths[c] - cells.get(c).length() + 2));
        }
        return text.toString().stripTrailing();
    }

    static int width() {
        String columns = System.getenv("COLUMNS");
        return columns != null && columns.matches("[1-9][0-9]{1,3}") ? Integer.parseInt(columns) : 160;
    }

    /** A secret from a file descriptor where one is named, else asked for; its purpose is said. */
    Secret secret(String purpose, Optional<Integer> descriptor) {
        if (descriptor.isPresent()) {
            return firstLine(Path.of("/dev/fd/" + descriptor.get()));
        }
        Console console = System.console();
        if (console == null) {
            throw CallFailure.of(
                    ProblemCode.MALFORMED,
                    purpose + " is needed; there is no terminal to ask at, name a file descriptor");
        }
        char[] typed = console.readPassword("%s: ", purpose);
        return Secret.of(typed == null ? "" : new String(typed));
    }

    static Secret firstLine(Path path) {
        try (BufferedReader in =
                new BufferedReader(new InputStreamReader(Files.newInputStream(path), StandardCharsets.UTF_8))) {
            String line = in.readLine();
            return Secret.of(line == null ? "" : line);
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, path + " cannot be read");
        }
    }

    /** Yes from a flag, or typed at a terminal. */
    boolean confirmed(String question, boolean yes) {
        if (yes) {
            return true;
        }
        Console console = System.console();
        if (console == null) {
            throw CallFailure.of(ProblemCode.MALFORMED, question + " Say --yes where there is no terminal to ask at");
        }
        String typed = console.readLine("%s [y/N] ", question);
        return typed != null && typed.strip().equalsIgnoreCase("y");
    }

    static String ago(Instant at) {
        long seconds = Math.max(0, Duration.between(at, Instant.now()).toSeconds());
        return seconds < 90
                ? seconds + " s ago"
                : seconds < 5_400
                        ? seconds / 60 + " min ago"
                        : seconds < 129_600 ? seconds / 3_600 + " h ago" : seconds / 86_400 + " d ago";
    }

    static String bytes(long count) {
        if (count < 1_000) {
            return count + " B";
        }
        String[] units = {"kB", "MB", "GB", "TB"};
        double value = count;
        int unit = -1;
        while (value >= 1_000 && unit < units.length - 1) {
            value /= 1_000;
            unit++;
        }
        return String.format(java.util.Locale.ROOT, "%.1f %s", value, units[unit]);
    }
}
