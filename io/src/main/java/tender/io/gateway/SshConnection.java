package tender.io.gateway;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.Predicate;
import org.apache.sshd.client.session.ClientSession;
import tender.core.backup.Snapshot;
import tender.core.backup.Undo;
import tender.core.credential.RevealSecret;
import tender.core.device.CommandWords;
import tender.core.device.DeviceDescription;
import tender.core.device.DeviceDescription.FileRule;
import tender.core.device.DeviceDescription.Format;
import tender.core.device.DeviceDescription.Output;
import tender.core.device.DeviceDescription.OutputFormat;
import tender.core.device.DeviceDescription.Source;
import tender.core.device.DeviceDescription.Task;
import tender.core.device.DeviceFiles;
import tender.core.device.FileChanges;
import tender.core.device.OpenVpnStatus;
import tender.core.device.SystemFacts;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.wire.MalformedException;
import tender.core.wireguard.StatusDump;

/** A session over SSH. Every read is bounded in size, every command in time. */
final class SshConnection implements ManagementConnection, PlanRun.Writer {
    private static final SecureRandom RANDOM = new SecureRandom();

    private final SshFiles files;
    private final SshCommands commands;
    private final DeviceDescription description;
    private final String device;
    private final boolean readOnly;

    SshConnection(ClientSession session, DeviceDescription description, String device, boolean readOnly) {
        this.commands = new SshCommands(session, device);
        this.files =
                new SshFiles(session, device, description.throughSudo() ? Optional.of(commands) : Optional.empty());
        this.description = description;
        this.device = device;
        this.readOnly = readOnly || description.throughSudo();
    }

    @Override
    public Set<Capability> capabilities() {
        return DescribedDevice.capabilities(description, readOnly);
    }

    private void mayChange() {
        if (readOnly) {
            throw new GatewayFailure(GatewayFailure.Kind.READ_ONLY, device + " is managed for reading only", null);
        }
    }

    @Override
    public Snapshot readAll() {
        TreeMap<String, byte[]> out = new TreeMap<>();
        long total = 0;
        for (String folder : description.folders()) {
            for (String path : files.list(folder)) {
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
        return files.read(path);
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
                        system(),
                        now));
    }

    private SystemFacts system() {
        Map<OutputFormat, String> printed = new EnumMap<>(OutputFormat.class);
        description
                .outputs()
                .forEach(o -> printed.put(o.format(), commands.run(o.run().with(Map.of()))));
        return SystemOutputs.read(printed);
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
                ? commands.run(source.run().get().with(Map.of()))
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
        commands.run(source.run().get().with(values), input);
    }

    @Override
    public List<Recognition> recognise(List<DeviceDescription> known) {
        Map<String, List<String>> listed = new HashMap<>();
        Map<String, Boolean> ran = new HashMap<>();
        return known.stream()
                .map(d -> recognised(
                        d,
                        folder -> listed.computeIfAbsent(folder, this::listedOrNone),
                        command -> ran.computeIfAbsent(command, this::runs)))
                .toList();
    }

    private static Recognition recognised(
            DeviceDescription d, Function<String, List<String>> list, Predicate<String> runs) {
        List<String> found = new ArrayList<>();
        List<String> missing = new ArrayList<>();
        boolean listeners = false;
        for (FileRule rule : d.files()) {
            boolean there = list.apply(rule.folder()).stream()
                    .anyMatch(p -> rule.name(p).isPresent());
            (there ? found : missing).add(rule.path());
            listeners |= there && rule.holdsListeners();
        }
        boolean all = true;
        for (Output o : d.outputs()) {
            String command = o.run().with(Map.of());
            boolean there = runs.test(command);
            (there ? found : missing).add(command);
            all &= there;
        }
        boolean server = d.files().stream().anyMatch(FileRule::holdsListeners);
        return new Recognition(d, server ? listeners : all && !d.outputs().isEmpty(), found, missing);
    }

    private List<String> listedOrNone(String folder) {
        try {
            return files.list(folder);
        } catch (GatewayFailure e) {
            return none(e, List.of());
        }
    }

    private boolean runs(String command) {
        try {
            commands.run(command);
            return true;
        } catch (GatewayFailure e) {
            return none(e, false);
        }
    }

    /** What is not there is none; a device that went away is not. */
    private static <T> T none(GatewayFailure e, T none) {
        if (e.kind() == GatewayFailure.Kind.UNREACHABLE) {
            throw e;
        }
        return none;
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
        for (String path : files.list(each.get().folder())) {
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
        return FileRule.of(path, Format.KEPT);
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
        TreeMap<String, byte[]> out = new TreeMap<>();
        for (String found : files.list(each.folder())) {
            if (each.name(found).isPresent()) {
                out.put(found.substring(found.lastIndexOf('/') + 1), read(found));
            }
        }
        return new Snapshot(out).toZip();
    }

    @Override
    public List<String> log(int lines) {
        return DescribedDevice.tail(answer(Task.LOG), lines);
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
        try (SshFiles.Lock lock = lock(file.path(), hold)) {
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
        Set<String> out = new LinkedHashSet<>();
        Optional<CommandWords> whole =
                Optional.ofNullable(description.commands().get(Task.APPLY)).flatMap(Source::run);
        whole.filter(c -> !c.takes("listener")).ifPresent(c -> out.add(c.with(Map.of())));
        for (FileRule rule : description.files()) {
            Optional<CommandWords> own = Optional.ofNullable(rule.commands().get(Task.APPLY))
                    .or(() -> whole.filter(c -> c.takes("listener") && rule.holdsListeners()));
            own.filter(c -> !c.takes("listener")).ifPresent(c -> out.add(c.with(Map.of())));
            own.filter(c -> c.takes("listener"))
                    .ifPresent(c -> files.list(rule.folder()).stream()
                            .flatMap(path -> rule.name(path).stream())
                            .forEach(name -> out.add(c.with(Map.of("listener", name)))));
        }
        if (out.isEmpty()) {
            order(Task.APPLY, Map.of()); // says that the description has no command for it
        }
        mayChange();
        out.forEach(commands::run);
    }

    /** Applies one listener's file, as it was written. */
    void reload(String listener) {
        order(Task.APPLY, listener);
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
        order(description.has(Task.RESTART) ? Task.RESTART : Task.APPLY, listener);
    }

    /** By the command of the listener's own file, else by the device's. */
    private void order(Task task, String listener) {
        List<FileRule> with = description.files().stream()
                .filter(r -> r.commands().containsKey(task))
                .toList();
        Optional<FileRule> own = with.stream()
                .filter(r -> files.list(r.folder()).stream()
                        .anyMatch(path -> r.name(path).filter(listener::equals).isPresent()))
                .findFirst()
                .or(() ->
                        with.stream().filter(r -> r.format() == Format.SWANCTL).findFirst());
        if (own.isEmpty()) {
            order(task, Map.of("listener", listener));
            return;
        }
        mayChange();
        commands.run(own.get().commands().get(task).with(Map.of("listener", listener)));
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
        try (SshFiles.Lock lock = lock(description.files().get(0).folder() + "/accounts", hold)) {
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
            try (SshFiles.Lock lock = lock("/" + path, hold)) {
                byte[] before = expected.get(path);
                if (content.isEmpty()) {
                    files.remove("/" + path, before);
                } else if (before == null) {
                    files.make("/" + path, content.get());
                } else {
                    lock.replace(before, content.get());
                }
            }
        });
    }

    /**
     * Takes the device's own lock on a file. A lock left by an earlier writer of the same holder with a lower fence is taken
     * over; anyone else's makes this fail with {@link GatewayFailure.Kind#LOCKED}.
     */
    SshFiles.Lock lock(String path, Hold hold) {
        mayChange();
        return files.lock(path, hold);
    }

    String tunnelFile(String listener) {
        return description.tunnelFile(listener);
    }

    @Override
    public void close() {
        files.close();
    }
}
