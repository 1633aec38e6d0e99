package tender.io.gateway;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
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
import tender.core.backup.Undo;
import tender.core.credential.RevealSecret;
import tender.core.device.DeviceDescription;
import tender.core.device.DeviceDescription.FileRule;
import tender.core.device.DeviceDescription.Format;
import tender.core.device.DeviceDescription.Source;
import tender.core.device.DeviceDescription.Task;
import tender.core.device.DeviceFiles;
import tender.core.device.FileChanges;
import tender.core.device.OpenVpnStatus;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.wire.MalformedException;
import tender.core.wireguard.StatusDump;

/** A session over SSH. Every read is bounded in size, every command in time. */
final class SshConnection implements ManagementConnection, PlanRun.Writer {
    private static final Duration COMMAND_TIMEOUT = Duration.ofSeconds(20);
    private static final int MAX_FILE_BYTES = 8 * 1024 * 1024;
    private static final int MAX_OUTPUT_BYTES = 16 * 1024 * 1024;
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final Pattern LOCK = Pattern.compile("holder=([A-Za-z0-9-]{1,64}) fence=([0-9]{1,18})\\s*");

    private final ClientSession session;
    private final DeviceDescription description;
    private final String device;
    private final boolean readOnly;
    private SftpClient sftp;

    SshConnection(ClientSession session, DeviceDescription description, String device, boolean readOnly) {
        this.session = session;
        this.description = description;
        this.device = device;
        this.readOnly = readOnly;
    }

    @Override
    public Set<Capability> capabilities() {
        return DescribedFiles.capabilities(description, readOnly);
    }

    private void mayChange() {
        if (readOnly) {
            throw new GatewayFailure(GatewayFailure.Kind.READ_ONLY, device + " is managed for reading only", null);
        }
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
            for (String path : list(folder)) {
                if (description.speaksOf(path)) {
                    byte[] content = read(path);
                    total += content.length;
                    if (total > Snapshot.MAX_TOTAL_BYTES || out.size() >= Snapshot.MAX_FILES) {
                        throw new GatewayFailure(
                                GatewayFailure.Kind.UNREADABLE, device + " has more files than are read", null);
                    }
                    out.put(path.substring(1), content);
                }
            }
        }
        return new Snapshot(out);
    }

    byte[] read(String path) {
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
    public Device device(Snapshot configuration, Instant now) {
        Set<Capability> can = capabilities();
        Optional<Instant> clock = can.contains(Capability.CLOCK) ? Optional.of(clock()) : Optional.empty();
        return DeviceFiles.read(
                description,
                new DeviceFiles.Answers(
                        configuration.files(),
                        can.contains(Capability.STATUS) ? Optional.of(status()) : Optional.empty(),
                        clock,
                        description.commands().containsKey(Task.RELEASE)
                                ? Optional.of(answer(Task.RELEASE).strip())
                                : Optional.empty(),
                        now));
    }

    private String answer(Task task) {
        Source source = description.commands().get(task);
        if (source == null) {
            throw new GatewayFailure(
                    GatewayFailure.Kind.NOT_CAPABLE,
                    device + ": the description " + description.name() + " has no way to " + task.word(),
                    null);
        }
        return source.run().isPresent()
                ? run(source.run().get().with(Map.of()))
                : new String(read(source.file().get()), StandardCharsets.UTF_8);
    }

    private void order(Task task, Map<String, String> values) {
        order(task, values, new byte[0]);
    }

    private void order(Task task, Map<String, String> values, byte[] input) {
        mayChange();
        Source source = description.commands().get(task);
        if (source == null || source.run().isEmpty()) {
            throw new GatewayFailure(
                    GatewayFailure.Kind.NOT_CAPABLE,
                    device + ": the description " + description.name() + " has no command to " + task.word(),
                    null);
        }
        run(source.run().get().with(values), input);
    }

    @Override
    public StatusDump status() {
        return description.commands().containsKey(Task.STATUS)
                ? StatusDump.parse(answer(Task.STATUS))
                : new StatusDump(List.of());
    }

    @Override
    public List<Connected> connected() {
        if (!description.commands().containsKey(Task.CONNECTED)) {
            return List.of();
        }
        Optional<FileRule> each = description
                .commands()
                .get(Task.CONNECTED)
                .file()
                .filter(f -> f.indexOf('*') >= 0)
                .map(SshConnection::each);
        if (each.isEmpty()) {
            // one status for all: it is the one listener's, where the description knows of no more
            String listener = description
                    .rule(Format.OPENVPN)
                    .flatMap(rule -> rule.name(rule.path()))
                    .orElse("");
            return connected(listener, answer(Task.CONNECTED));
        }
        List<Connected> out = new ArrayList<>();
        for (String path : list(each.get().folder())) {
            each.get()
                    .name(path)
                    .ifPresent(listener ->
                            out.addAll(connected(listener, new String(read(path), StandardCharsets.UTF_8))));
        }
        return out;
    }

    private static List<Connected> connected(String listener, String status) {
        return OpenVpnStatus.parse(status).stream()
                .map(c -> new Connected(
                        listener, c.name(), c.endpoint(), c.addresses(), c.received(), c.sent(), c.since()))
                .toList();
    }

    private static FileRule each(String path) {
        return new FileRule(path, Format.KEPT, Map.of(), Map.of(), Map.of(), Map.of());
    }

    /** Paths of the plain files in a folder. */
    private List<String> list(String folder) {
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

    @Override
    public byte[] export() {
        Source source = description.commands().get(Task.EXPORT);
        if (source == null || source.file().isEmpty()) {
            throw new GatewayFailure(
                    GatewayFailure.Kind.NOT_CAPABLE,
                    device + ": the description " + description.name() + " names no file of client files",
                    null);
        }
        String path = source.file().get();
        if (path.indexOf('*') < 0) {
            return read(path);
        }
        FileRule each = each(path);
        TreeMap<String, byte[]> files = new TreeMap<>();
        for (String found : list(each.folder())) {
            if (each.name(found).isPresent()) {
                files.put(found.substring(found.lastIndexOf('/') + 1), read(found));
            }
        }
        return new Snapshot(files).toZip();
    }

    @Override
    public List<String> log(int lines) {
        return DescribedFiles.tail(answer(Task.LOG), lines);
    }

    @Override
    public Instant clock() {
        try {
            return Instant.parse(answer(Task.CLOCK).strip());
        } catch (DateTimeParseException e) {
            throw new GatewayFailure(GatewayFailure.Kind.COMMAND_FAILED, device + ": the clock's answer is no time", e);
        }
    }

    private void setClock(Instant now) {
        Instant whole = now.truncatedTo(ChronoUnit.SECONDS);
        order(Task.SET_CLOCK, Map.of("time", whole.toString(), "epoch", Long.toString(whole.getEpochSecond())));
    }

    @Override
    public byte[] tunnel(String listener) {
        return read(tunnelFile(listener));
    }

    @Override
    public byte[] revocationLists(String path) {
        return read(path);
    }

    @Override
    public Applied apply(GatewayPlan plan, Hold hold) {
        return PlanRun.run(plan, hold, this);
    }

    @Override
    public void settings(GatewayPlan.Settings settings, Hold hold) {
        change(settings.read(), settings.device(), settings.changes(), hold);
    }

    @Override
    public Applied.Peers peers(GatewayPlan.ListenerPeers peers, Hold hold) {
        return PeerWriting.write(this, peers, hold);
    }

    @Override
    public void list(GatewayPlan.ListFile file, Hold hold) {
        try (Lock lock = lock(file.path(), hold)) {
            lock.replace(file.expected(), file.content());
        }
        if (!Arrays.equals(read(file.path()), file.content())) {
            throw new GatewayFailure(
                    GatewayFailure.Kind.COMMAND_FAILED,
                    device + ": " + file.path() + " was written and does not hold the revocation list",
                    null);
        }
    }

    @Override
    public void reload() {
        order(Task.APPLY, Map.of());
    }

    @Override
    public void reload(GatewayPlan.Reload reload) {
        if (reload.listener().isPresent()) {
            restart(reload.listener().get());
        } else if (reload.everything()) {
            reload();
        }
    }

    /** Starts one listener anew. */
    void restart(String listener) {
        Task task = description.commands().containsKey(Task.RESTART) ? Task.RESTART : Task.APPLY;
        order(task, Map.of("listener", listener));
    }

    /** The command that sets accounts runs under a lock beside the device's files, as every other write does. */
    @Override
    public void accounts(List<Account> put, List<String> drop, Hold hold) {
        StringBuilder lines = new StringBuilder();
        put.forEach(a -> lines.append("set ")
                .append(word(a.name()))
                .append(' ')
                .append(a.password().revealText(RevealSecret.TO_WRITE_FILE))
                .append('\n'));
        drop.forEach(name -> lines.append("drop ").append(word(name)).append('\n'));
        byte[] input = lines.toString().getBytes(StandardCharsets.UTF_8);
        if (!capabilities().contains(Capability.FILES) || description.files().isEmpty()) {
            order(Task.ACCOUNTS, Map.of(), input);
            return;
        }
        try (Lock lock = lock(description.files().get(0).folder() + "/accounts", hold)) {
            order(Task.ACCOUNTS, Map.of(), input);
        }
    }

    private static String word(String account) {
        if (!account.matches("[A-Za-z0-9._@-]{1,64}")) {
            throw new MalformedException("account", "name", "1 to 64 letters, digits, dots, hyphens or @");
        }
        return account;
    }

    @Override
    public void arm(Duration after) {
        order(Task.ARM, Map.of("seconds", Long.toString(after.toSeconds())));
    }

    @Override
    public void disarm() {
        order(Task.DISARM, Map.of());
    }

    void change(Snapshot read, Device now, List<Change> changes, Hold hold) {
        mayChange();
        Map<String, Optional<byte[]>> fresh = FileChanges.of(description, read.files(), now, changes, RANDOM);
        write(read.files(), fresh, hold);
        for (Change change : changes) {
            if (change.setsClock()) {
                setClock(Instant.now());
            }
        }
    }

    @Override
    public void undo(Snapshot before, Optional<Snapshot> after, Hold hold) {
        mayChange();
        Snapshot now = readAll();
        write(now.files(), Undo.files(before, after.orElse(now), now), hold);
    }

    private void write(Map<String, byte[]> expected, Map<String, Optional<byte[]>> fresh, Hold hold) {
        fresh.forEach((path, content) -> {
            try (Lock lock = lock("/" + path, hold)) {
                byte[] before = expected.get(path);
                if (content.isEmpty()) {
                    remove("/" + path, before);
                } else if (before == null) {
                    write("/" + path, content.get(), EnumSet.of(OpenMode.Write, OpenMode.Create, OpenMode.Exclusive));
                } else {
                    lock.replace(before, content.get());
                }
            }
        });
    }

    private void remove(String path, byte[] expected) {
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

    String tunnelFile(String listener) {
        return description.tunnelFile(listener);
    }

    private String run(String command) {
        return run(command, new byte[0]);
    }

    private String run(String command, byte[] input) {
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
    Lock lock(String path, Hold hold) {
        mayChange();
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
