package tender.standins.device;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import org.apache.sshd.server.Environment;
import org.apache.sshd.server.ExitCallback;
import org.apache.sshd.server.channel.ChannelSession;

/** Runs one command word over an SSH channel on a thread of its own. */
public final class Command implements org.apache.sshd.server.command.Command {
    /** Exit code and what is printed. */
    public record Outcome(int code, String out, String err) {}

    private final String words;
    /** What carries a command out. */
    @FunctionalInterface
    public interface Shell {
        Outcome run(String words, InputStream input) throws IOException;
    }

    private final Shell shell;
    private InputStream input;
    private OutputStream out;
    private OutputStream err;
    private ExitCallback exit;

    public Command(String words, Shell shell) {
        this.words = words;
        this.shell = shell;
    }

    @Override
    public void start(ChannelSession channel, Environment environment) {
        Thread thread = new Thread(this::answer, "command");
        thread.setDaemon(true);
        thread.start();
    }

    private void answer() {
        Outcome outcome;
        try {
            outcome = shell.run(words, input);
        } catch (IOException | RuntimeException e) {
            outcome = new Outcome(1, "", e.getMessage() + "\n");
        }
        try {
            out.write(outcome.out().getBytes(StandardCharsets.UTF_8));
            out.flush();
            err.write(outcome.err().getBytes(StandardCharsets.UTF_8));
            err.flush();
            exit.onExit(outcome.code());
        } catch (IOException e) {
            exit.onExit(1, "the caller went away");
        }
    }

    @Override
    public void destroy(ChannelSession channel) {
        // nothing is held open
    }

    @Override
    public void setInputStream(InputStream in) {
        input = in;
    }

    @Override
    public void setOutputStream(OutputStream stream) {
        out = stream;
    }

    @Override
    public void setErrorStream(OutputStream stream) {
        err = stream;
    }

    @Override
    public void setExitCallback(ExitCallback callback) {
        exit = callback;
    }
}
