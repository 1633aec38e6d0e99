package tender.io.gateway;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.EnumSet;
import java.util.Set;
import org.apache.sshd.client.channel.ChannelExec;
import org.apache.sshd.client.channel.ClientChannelEvent;
import org.apache.sshd.client.session.ClientSession;

/** Commands at a device, over SSH: bounded in time, and in what they print. */
final class SshCommands {
    private static final Duration COMMAND_TIMEOUT = Duration.ofSeconds(20);
    private static final int MAX_OUTPUT_BYTES = 16 * 1024 * 1024;

    private final ClientSession session;
    private final String device;

    SshCommands(ClientSession session, String device) {
        this.session = session;
        this.device = device;
    }

    String run(String command) {
        return run(command, new byte[0]);
    }

    /**
     * What a command printed.
     *
     * @param input what it reads
     * @throws GatewayFailure where it ends with another code than 0, takes too long, or the device goes away
     */
    String run(String command, byte[] input) {
        return new String(bytes(command, input), StandardCharsets.UTF_8);
    }

    /** A word for the device's shell that stands for itself, whatever is in it. */
    static String quoted(String word) {
        return "'" + word.replace("'", "'\\''") + "'";
    }

    /** What a command printed, as it came. */
    byte[] bytes(String command, byte[] input) {
        try (ChannelExec channel = session.createExecChannel(command)) {
            channel.setIn(new ByteArrayInputStream(input));
            Bounded out = new Bounded();
            Bounded err = new Bounded();
            channel.setOut(out);
            channel.setErr(err);
            channel.open().verify(COMMAND_TIMEOUT);
            Set<ClientChannelEvent> events = channel.waitFor(EnumSet.of(ClientChannelEvent.CLOSED), COMMAND_TIMEOUT);
            if (events.contains(ClientChannelEvent.TIMEOUT)) {
                throw new GatewayFailure(
                        GatewayFailure.Kind.COMMAND_FAILED, device + ": " + command + " took over 20 s", null);
            }
            Integer code = channel.getExitStatus();
            if (code == null) {
                throw new GatewayFailure(
                        GatewayFailure.Kind.UNREACHABLE, device + " went away during " + command, null);
            }
            if (code != 0) {
                throw new GatewayFailure(
                        GatewayFailure.Kind.COMMAND_FAILED,
                        device + ": " + command + " ended with " + code + saying(err),
                        null);
            }
            return out.toByteArray();
        } catch (IOException
                | IllegalStateException e) { // the library says the latter of a session that is being closed
            session.close(true);
            throw new GatewayFailure(GatewayFailure.Kind.UNREACHABLE, device + ": " + command + " could not be run", e);
        }
    }

    /** A device's own words, made printable and short. */
    private static String saying(ByteArrayOutputStream err) {
        String text = err.toString(StandardCharsets.UTF_8)
                .replaceAll("\\p{Cntrl}+", " ")
                .strip();
        return text.isEmpty() ? "" : ": " + text.substring(0, Math.min(200, text.length()));
    }

    /** Stops taking bytes at the limit instead of filling memory. */
    private static final class Bounded extends ByteArrayOutputStream {
        @Override
        public synchronized void write(byte[] bytes, int offset, int length) {
            if (count + length > MAX_OUTPUT_BYTES) {
                throw new GatewayFailure(GatewayFailure.Kind.COMMAND_FAILED, "a command printed over 16 MiB", null);
            }
            super.write(bytes, offset, length);
        }
    }
}
