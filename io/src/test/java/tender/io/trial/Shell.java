package tender.io.trial;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import java.util.function.BooleanSupplier;

/** Runs programs that real peers are made of, bounded in time. */
final class Shell {
    private static final int LIMIT_SECONDS = 60;

    /** What a program printed and how it ended. */
    record Result(int code, String out) {}

    private Shell() {}

    static Result run(String... command) {
        try {
            Path out = Files.createTempFile("shell", ".out");
            Process process = new ProcessBuilder(command)
                    .redirectErrorStream(true)
                    .redirectOutput(out.toFile())
                    .start();
            process.getOutputStream().close();
            if (!process.waitFor(LIMIT_SECONDS, TimeUnit.SECONDS)) {
                process.destroyForcibly();
                throw new AssertionError(String.join(" ", command) + " took over a minute");
            }
            String text = Files.readString(out, StandardCharsets.ISO_8859_1);
            Files.delete(out);
            return new Result(process.exitValue(), text);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(e);
        }
    }

    /** Runs a program that must end well. */
    static String need(String... command) {
        Result result = run(command);
        if (result.code() != 0) {
            throw new AssertionError(String.join(" ", command) + " ended with " + result.code() + ":\n" + result.out());
        }
        return result.out();
    }

    static boolean has(String program) {
        return run("bash", "-c", "command -v " + program).code() == 0;
    }

    /** Ends the process whose number stands in a file, and waits until it is gone. */
    static void stop(Path pidFile) {
        run(
                "bash",
                "-c",
                "[ ! -s " + pidFile + " ] || { p=$(cat " + pidFile
                        + "); kill $p; for i in $(seq 100); do grep -qs '^State:.[^ZX]' /proc/$p/status || break; sleep 0.05; done; }");
    }

    /** Waits for a condition; fails with what was waited for. */
    static void until(String what, Duration limit, BooleanSupplier condition) {
        Instant end = Instant.now().plus(limit);
        while (!condition.getAsBoolean()) {
            if (Instant.now().isAfter(end)) {
                throw new AssertionError("waited " + limit + " for " + what);
            }
            LockSupport.parkNanos(20_000_000);
        }
    }
}
