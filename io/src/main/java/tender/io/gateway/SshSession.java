package tender.io.gateway;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.apache.sshd.client.channel.ChannelExec;
import org.apache.sshd.client.channel.ClientChannelEvent;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.sftp.client.SftpClient;
import org.apache.sshd.sftp.client.SftpClient.DirEntry;
import org.apache.sshd.sftp.client.SftpClient.OpenMode;
import org.apache.sshd.sftp.client.SftpClientFactory;
import org.apache.sshd.sftp.client.extensions.openssh.OpenSSHPosixRenameExtension;
import org.apache.sshd.sftp.common.SftpConstants;
import org.apache.sshd.sftp.common.SftpException;
import tender.core.backup.Snapshot;
import tender.core.wireguard.StatusDump;

/** A session over SSH. Every read is bounded in size, every command in time. */
final class SshSession implements Session {
    private static final Duration COMMAND_TIMEOUT = Duration.ofSeconds(20);
    private static final int MAX_FILE_BYTES = 8 * 1024 * 1024;
    private static final int MAX_OUTPUT_BYTES = 16 * 1024 * 1024;
    private static final Pattern LOCK = Pattern.compile("holder=([A-Za-z0-9-]{1,64}) fence=([0-9]{1,18})\\s*");

    private final ClientSession session;
    private final DeviceDescription description;
    private final String device;
    private SftpClient sftp;

    SshSession(ClientSession session, DeviceDescription description, String device) {
        this.session = session;
        this.description = description;
        this.device = device;
    }

    private SftpClient files() {
        try {
            if (sftp == null) {
                sftp = SftpClientFactory.instance().createSftpClient(session);
            }
            return sftp;
        } catch (IOException e) {
            session.close(true);
            throw new GatewayFailure(GatewayFailure.Kind.UNREACHABLE, device + " opens no file transfer", e);
        }
    }

    @Override
    public Snapshot readAll() {
        TreeMap<String, byte[]> out = new TreeMap<>();
        long total = 0;
        for (String folder : description.folders()) {
            try {
                for (DirEntry entry : files().readDir(folder)) {
                    String name = entry.getFilename();
                    if (entry.getAttributes().isRegularFile() && !name.endsWith(".lock") && !name.endsWith(".new")) {
                        String path = folder.equals("/") ? "/" + name : folder + "/" + name;
                        byte[] content = read(path);
                        total += content.length;
                        if (total > Snapshot.MAX_TOTAL_BYTES || out.size() >= Snapshot.MAX_FILES) {
                            throw new GatewayFailure(
                                    GatewayFailure.Kind.UNREADABLE, device + " has more files than are read", null);
                        }
                        out.put(path.substring(1), content);
                    }
                }
            } catch (IOException | UncheckedIOException e) {
                throw new GatewayFailure(
                        GatewayFailure.Kind.UNREADABLE, device + ": folder " + folder + " cannot be listed", e);
            }
        }
        return new Snapshot(out);
    }

    @Override
    public byte[] read(String path) {
        try (InputStream in = files().read(path)) {
            byte[] content = in.readNBytes(MAX_FILE_BYTES + 1);
            if (content.length > MAX_FILE_BYTES) {
                throw new GatewayFailure(GatewayFailure.Kind.UNREADABLE, device + ": " + path + " is over 8 MiB", null);
            }
            return content;
        } catch (IOException e) {
            throw new GatewayFailure(GatewayFailure.Kind.UNREADABLE, device + ": " + path + " cannot be read", e);
        }
    }

    @Override
    public StatusDump status() {
        return StatusDump.parse(run(description.statusCommand()));
    }

    @Override
    public Instant clock() {
        try {
            return Instant.parse(run(description.clockCommand()).strip());
        } catch (DateTimeParseException e) {
            throw new GatewayFailure(GatewayFailure.Kind.COMMAND_FAILED, device + ": the clock's answer is no time", e);
        }
    }

    @Override
    public void apply() {
        run(description.applyCommand());
    }

    private String run(String command) {
        try (ChannelExec channel = session.createExecChannel(command)) {
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
            return out.toString(StandardCharsets.UTF_8);
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

    @Override
    public Lock lock(String path, String holder, long fence) {
        String lockPath = path + ".lock";
        byte[] content = ("holder=" + holder + " fence=" + fence + "\n").getBytes(StandardCharsets.UTF_8);
        if (!create(lockPath, content)) {
            Matcher present = LOCK.matcher(new String(read(lockPath), StandardCharsets.UTF_8));
            boolean ours =
                    present.matches() && present.group(1).equals(holder) && Long.parseLong(present.group(2)) < fence;
            boolean torn = !present.matches() && read(lockPath).length == 0;
            if (!ours && !torn) {
                throw new GatewayFailure(
                        GatewayFailure.Kind.LOCKED,
                        device + ": " + lockPath + " is held by someone else; remove it there if they are gone",
                        null);
            }
            write(lockPath, content, EnumSet.of(OpenMode.Write, OpenMode.Truncate));
        }
        return new FileLock(path, lockPath, content);
    }

    private boolean create(String path, byte[] content) {
        try {
            write(path, content, EnumSet.of(OpenMode.Write, OpenMode.Create, OpenMode.Exclusive));
            return true;
        } catch (GatewayFailure e) {
            if (e.getCause() instanceof SftpException sftpFailure
                    && (sftpFailure.getStatus() == SftpConstants.SSH_FX_FAILURE
                            || sftpFailure.getStatus() == SftpConstants.SSH_FX_FILE_ALREADY_EXISTS)) {
                return false;
            }
            throw e;
        }
    }

    private void write(String path, byte[] content, Set<OpenMode> modes) {
        try (SftpClient.CloseableHandle handle = files().open(path, modes)) {
            int chunk = 32 * 1024;
            for (int at = 0; at < content.length; at += chunk) {
                files().write(handle, at, content, at, Math.min(chunk, content.length - at));
            }
        } catch (IOException e) {
            throw new GatewayFailure(
                    GatewayFailure.Kind.COMMAND_FAILED, device + ": " + path + " cannot be written", e);
        }
    }

    @Override
    public void close() {
        if (sftp != null) {
            try {
                sftp.close();
            } catch (IOException e) {
                session.close(true);
            }
        }
    }

    private final class FileLock implements Lock {
        private final String path;
        private final String lockPath;
        private final byte[] mine;

        private FileLock(String path, String lockPath, byte[] mine) {
            this.path = path;
            this.lockPath = lockPath;
            this.mine = mine;
        }

        @Override
        public void replace(byte[] expected, byte[] content) {
            String fresh = path + ".new";
            write(fresh, content, EnumSet.of(OpenMode.Write, OpenMode.Create, OpenMode.Truncate));
            boolean whole = Arrays.equals(read(fresh), content);
            if (!whole || !Arrays.equals(read(path), expected) || !Arrays.equals(read(lockPath), mine)) {
                throw new GatewayFailure(
                        GatewayFailure.Kind.CHANGED_MEANWHILE,
                        device + ": " + path + " was changed by someone else; nothing was written",
                        null);
            }
            try {
                OpenSSHPosixRenameExtension rename = files().getExtension(OpenSSHPosixRenameExtension.class);
                if (rename != null && rename.isSupported()) {
                    rename.posixRename(fresh, path);
                } else {
                    files().rename(fresh, path, SftpClient.CopyMode.Overwrite, SftpClient.CopyMode.Atomic);
                }
            } catch (IOException e) {
                throw new GatewayFailure(
                        GatewayFailure.Kind.COMMAND_FAILED, device + ": " + path + " cannot be replaced", e);
            }
        }

        @Override
        public void close() {
            try {
                files().remove(lockPath);
            } catch (IOException e) {
                session.close(true);
            }
        }
    }
}
