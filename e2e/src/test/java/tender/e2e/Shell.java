package tender.e2e;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import java.util.function.BooleanSupplier;

/** Runs programs as a person would, bounded in time. */
final class Shell {
    static final Path ROOT = Path.of(System.getProperty("tender.root"));

    /** What a program printed and how it ended. */
    record Result(int code, String out) {}

    private Shell() {}

    static Result run(Map<String, String> env, Duration limit, List<String> command) {
        try {
            ProcessBuilder builder =
                    new ProcessBuilder(command).directory(ROOT.toFile()).redirectErrorStream(true);
            builder.environment().putAll(env);
            Path out = Files.createTempFile("shell", ".out");
            Process process = builder.redirectOutput(out.toFile()).start();
            process.getOutputStream().close();
            if (!process.waitFor(limit.toMillis(), TimeUnit.MILLISECONDS)) {
                process.destroyForcibly();
                throw new AssertionError(command + " took over " + limit + ":\n" + Files.readString(out));
            }
            String text = Files.readString(out, StandardCharsets.ISO_8859_1);
            Files.delete(out);
            return new Result(process.exitValue(), text);
        } catch (IOException e) {
            throw new IllegalStateException(command.toString(), e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(e);
        }
    }

    static Result run(String... command) {
        return run(Map.of(), Duration.ofSeconds(60), Arrays.asList(command));
    }

    /** Runs a program that must end well. */
    static String need(String... command) {
        Result result = run(command);
        if (result.code() != 0) {
            throw new AssertionError(String.join(" ", command) + " ended with " + result.code() + ":\n" + result.out());
        }
        return result.out();
    }

    /** An SSH key pair without a passphrase; the public half lies beside it. */
    static void keyPair(Path file) {
        need("ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", file.toString());
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
            LockSupport.parkNanos(Duration.ofMillis(50).toNanos());
        }
    }

    static byte[] resource(String name) throws IOException {
        try (InputStream in = Shell.class.getResourceAsStream(name)) {
            return in.readAllBytes();
        }
    }
}
