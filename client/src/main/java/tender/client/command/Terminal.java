package tender.client.command;

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
public final class Terminal {
    private static final int DEFAULT_WIDTH = 100;
    private static final String UNDERLINE = "\033[4m";
    private static final String RESET = "\033[0m";

    @Option(names = "--json", description = "Print JSON for programs instead of a table for people.")
    public boolean json;

    @Option(
            names = {"-q", "--quiet"},
            description = "Print results only.")
    public boolean quiet;

    @Option(names = "--no-colour", description = "No colours or underlines; NO_COLOR does the same.")
    public boolean plain;

    private final PrintStream out =
            new PrintStream(new java.io.FileOutputStream(java.io.FileDescriptor.out), true, StandardCharsets.UTF_8);
    private final PrintStream err =
            new PrintStream(new java.io.FileOutputStream(java.io.FileDescriptor.err), true, StandardCharsets.UTF_8);

    public boolean isTerminal() {
        return System.console() != null;
    }

    private boolean isStyled() {
        return !plain && isTerminal() && System.getenv("NO_COLOR") == null;
    }

    public String colour(int code, String text) {
        return isStyled() ? "\033[" + code + "m" + text + RESET : text;
    }

    public void print(String text) {
        out.println(text);
    }

    public void json(Object value) {
        out.println(Json.pretty(value));
    }

    /** Said to people only: hints, progress, what happens next. */
    public void say(String text) {
        if (!quiet) {
            err.println(text);
        }
    }

    /**
     * Columns as wide as their contents, as far as they fit the line: the widest are cut first, the first one, by which a row is
     * named, never. What does not fit is in {@code show} and {@code --json}.
     */
    public void table(List<String> heads, List<List<String>> rows, String whenEmpty) {
        if (rows.isEmpty()) {
            say(whenEmpty);
            return;
        }
        Table.lines(heads, rows, width(), head -> isStyled() ? UNDERLINE + head + RESET : head)
                .forEach(out::println);
    }

    public static int width() {
        String columns = System.getenv("COLUMNS");
        return columns != null && columns.matches("[1-9][0-9]{1,3}") ? Integer.parseInt(columns) : DEFAULT_WIDTH;
    }

    /** A secret from a file descriptor where one is named, else asked for; its purpose is said. */
    public Secret secret(String purpose, Optional<Integer> descriptor) {
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

    public static Secret firstLine(Path path) {
        try (BufferedReader in =
                new BufferedReader(new InputStreamReader(Files.newInputStream(path), StandardCharsets.UTF_8))) {
            String line = in.readLine();
            return Secret.of(line == null ? "" : line);
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, path + " cannot be read");
        }
    }

    /** Yes from a flag, or typed at a terminal. */
    public boolean confirmed(String question, boolean yes) {
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

    public static String ago(Instant at) {
        long seconds = Math.max(0, Duration.between(at, Instant.now()).toSeconds());
        return seconds < 90
                ? seconds + " s ago"
                : seconds < 5_400
                        ? seconds / 60 + " min ago"
                        : seconds < 129_600 ? seconds / 3_600 + " h ago" : seconds / 86_400 + " d ago";
    }

    public static String bytes(long count) {
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
