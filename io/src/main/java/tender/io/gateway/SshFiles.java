package tender.io.gateway;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.sftp.client.SftpClient;
import org.apache.sshd.sftp.client.SftpClient.DirEntry;
import org.apache.sshd.sftp.client.SftpClient.OpenMode;
import org.apache.sshd.sftp.client.SftpClientFactory;
import org.apache.sshd.sftp.client.extensions.openssh.OpenSSHPosixRenameExtension;
import org.apache.sshd.sftp.common.SftpConstants;
import org.apache.sshd.sftp.common.SftpException;

/**
 * Files of a device over SFTP, and its own locks on them; or read through its sudo, where whoever signs in may not read them. Every
 * file is bounded in size.
 */
final class SshFiles implements AutoCloseable {
    private static final int MAX_FILE_BYTES = 8 * 1024 * 1024;
    private static final Pattern LOCK = Pattern.compile("holder=([A-Za-z0-9-]{1,64}) fence=([0-9]{1,18})\\s*");

    private final ClientSession session;
    private final String device;
    private final Optional<SshCommands> sudo;
    private SftpClient sftp;

    /** @param sudo what files are read through; SFTP where empty */
    SshFiles(ClientSession session, String device, Optional<SshCommands> sudo) {
        this.session = session;
        this.device = device;
        this.sudo = sudo;
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

    byte[] read(String path) {
        return sudo.map(s ->
                        bounded(path, asRoot(s, "head -c " + (MAX_FILE_BYTES + 1) + " -- " + SshCommands.quoted(path))))
                .orElseGet(() -> overSftp(path));
    }

    private byte[] bounded(String path, byte[] content) {
        if (content.length > MAX_FILE_BYTES) {
            throw new GatewayFailure(GatewayFailure.Kind.UNREADABLE, device + ": " + path + " is over 8 MiB", null);
        }
        return content;
    }

    /** Never asks for a password: a device that wants one for this says so at once. */
    private byte[] asRoot(SshCommands commands, String command) {
        try {
            return commands.bytes("sudo -n -- " + command, new byte[0]);
        } catch (GatewayFailure e) {
            if (e.kind() != GatewayFailure.Kind.COMMAND_FAILED) {
                throw e;
            }
            throw new GatewayFailure(
                    GatewayFailure.Kind.UNREADABLE,
                    e.getMessage() + "; sudo has to allow head and find without a password",
                    e);
        }
    }

    private byte[] overSftp(String path) {
        try (InputStream in = files().read(path)) {
            return bounded(path, in.readNBytes(MAX_FILE_BYTES + 1));
        } catch (IOException e) {
            throw new GatewayFailure(GatewayFailure.Kind.UNREADABLE, device + ": " + path + " cannot be read", e);
        }
    }

    /** Paths of the plain files in a folder. */
    List<String> list(String folder) {
        if (sudo.isPresent()) {
            String find = "find " + SshCommands.quoted(folder) + " -maxdepth 1 -type f -print0";
            return Arrays.stream(new String(asRoot(sudo.get(), find), StandardCharsets.UTF_8).split("\0"))
                    .filter(path -> !path.isEmpty())
                    .sorted()
                    .toList();
        }
        try {
            List<String> out = new ArrayList<>();
            for (DirEntry entry : files().readDir(folder)) {
                if (entry.getAttributes().isRegularFile()) {
                    out.add(folder.equals("/") ? "/" + entry.getFilename() : folder + "/" + entry.getFilename());
                }
            }
            return out;
        } catch (IOException | UncheckedIOException e) {
            throw new GatewayFailure(
                    GatewayFailure.Kind.UNREADABLE, device + ": folder " + folder + " cannot be listed", e);
        }
    }

    /** Makes a file that is not there yet. */
    void make(String path, byte[] content) {
        write(path, content, EnumSet.of(OpenMode.Write, OpenMode.Create, OpenMode.Exclusive));
    }

    /** Removes a file that still has the expected contents. */
    void remove(String path, byte[] expected) {
        if (!Arrays.equals(read(path), expected)) {
            throw new GatewayFailure(
                    GatewayFailure.Kind.CHANGED_MEANWHILE,
                    device + ": " + path + " was changed by someone else; it stays",
                    null);
        }
        try {
            files().remove(path);
        } catch (IOException e) {
            throw new GatewayFailure(
                    GatewayFailure.Kind.COMMAND_FAILED, device + ": " + path + " cannot be removed", e);
        }
    }

    /** A held lock on a file of the device. */
    interface Lock extends AutoCloseable {
        /** Replaces the file if it still has the expected contents: write new, check, rename over. */
        void replace(byte[] expected, byte[] content);

        @Override
        void close();
    }

    /**
     * Takes the device's own lock on a file. A lock left by an earlier writer of the same holder with a lower fence is taken
     * over; anyone else's makes this fail with {@link GatewayFailure.Kind#LOCKED}.
     */
    Lock lock(String path, ManagementConnection.Hold hold) {
        String holder = hold.holder();
        long fence = hold.fence();
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
                if (Arrays.equals(read(lockPath), mine)) { // not one that somebody took over meanwhile
                    files().remove(lockPath);
                }
            } catch (IOException | GatewayFailure e) {
                session.close(true);
            }
        }
    }
}
