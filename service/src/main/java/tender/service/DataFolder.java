package tender.service;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.slf4j.LoggerFactory;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.service.key.MasterKeys;
import tender.service.settings.Settings;
import tender.store.secret.MasterKey;

/** What a node keeps on disk: its lock, its name, the master key and the first owner's password. */
final class DataFolder implements AutoCloseable {
    private static final Set<PosixFilePermission> OWNER_ONLY = PosixFilePermissions.fromString("rw-------");
    private static final int KEY_COMMAND_SECONDS = 30;

    private final Path folder;
    private final FileChannel channel;

    private DataFolder(Path folder, FileChannel channel) {
        this.folder = folder;
        this.channel = channel;
    }

    /** Takes the folder for this process; empty when another one has it. */
    static Optional<DataFolder> take(Path folder) throws IOException {
        Files.createDirectories(folder);
        FileChannel channel =
                FileChannel.open(folder.resolve("service.lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
        try {
            FileLock lock = channel.tryLock();
            if (lock != null) {
                return Optional.of(new DataFolder(folder, channel));
            }
        } catch (OverlappingFileLockException e) {
            // held by this very process: the same as held by another
        }
        channel.close();
        return Optional.empty();
    }

    /** This node's name, the same after a restart, so that it finds its own unfinished work again. */
    String node() throws IOException {
        Path file = folder.resolve("node");
        if (!Files.exists(file)) {
            Files.writeString(file, "node-" + UUID.randomUUID());
        }
        return Files.readString(file).strip();
    }

    Path writeFirstPassword(Secret password) throws IOException {
        Path file = folder.resolve("first-password");
        writeOwnerOnly(file, password.revealText(RevealSecret.TO_HAND_OUT) + "\n");
        return file;
    }

    /** Takes the first owner's password away; it is of no use any more. */
    void dropFirstPassword() {
        try {
            Files.deleteIfExists(folder.resolve("first-password"));
        } catch (IOException e) {
            LoggerFactory.getLogger(DataFolder.class).warn("the first password cannot be removed: {}", e.getMessage());
        }
    }

    private static void writeOwnerOnly(Path file, String text) throws IOException {
        Files.deleteIfExists(file);
        Files.createFile(file, PosixFilePermissions.asFileAttribute(OWNER_ONLY));
        Files.writeString(file, text);
    }

    List<MasterKey> masterKeys(Settings settings) throws IOException, InterruptedException {
        if (!settings.masterKeyCommand().isEmpty()) {
            return parse(commandOutput(settings.masterKeyCommand()));
        }
        Path file = settings.masterKeyFile().orElse(folder.resolve("master-key"));
        if (settings.masterKeyFile().isEmpty() && !Files.exists(file)) {
            byte[] key = new byte[32];
            new SecureRandom().nextBytes(key);
            writeOwnerOnly(file, "k1:" + HexFormat.of().formatHex(key) + "\n");
            Arrays.fill(key, (byte) 0);
        }
        if (!Files.getPosixFilePermissions(file).equals(OWNER_ONLY)) {
            throw new IOException("the master key file " + file + " must have mode 0600");
        }
        return parse(Files.readString(file));
    }

    /** Where this node keeps its master keys: the file that they are read from. */
    MasterKeys.Store masterKeyStore(Settings settings) {
        Path file = settings.masterKeyFile().orElse(folder.resolve("master-key"));
        boolean fromCommand = !settings.masterKeyCommand().isEmpty();
        return new MasterKeys.Store() {
            @Override
            public boolean isWritable() {
                Path parent = file.toAbsolutePath().getParent();
                return !fromCommand && Files.isWritable(file) && Files.isWritable(parent);
            }

            @Override
            public void add(MasterKey key) throws IOException {
                List<MasterKey> keys = parse(Files.readString(file));
                if (keys.stream().noneMatch(k -> k.id().equals(key.id()))) {
                    List<MasterKey> all = new ArrayList<>(keys);
                    all.add(key);
                    replace(file, all);
                }
            }

            @Override
            public void dropOthers(String keyId) throws IOException {
                List<MasterKey> keys = parse(Files.readString(file));
                List<MasterKey> others =
                        keys.stream().filter(k -> !k.id().equals(keyId)).toList();
                if (!others.isEmpty() && others.size() < keys.size()) {
                    // backups of the database from before are encrypted under them
                    replace(file.resolveSibling(file.getFileName() + ".before-" + keyId), others);
                    replace(
                            file,
                            keys.stream().filter(k -> k.id().equals(keyId)).toList());
                }
            }
        };
    }

    /** Written beside and renamed over, so that a kill leaves one or the other. */
    private static void replace(Path file, List<MasterKey> keys) throws IOException {
        Path fresh = file.resolveSibling(file.getFileName() + "." + UUID.randomUUID());
        StringBuilder text = new StringBuilder();
        keys.forEach(k -> text.append(k.text()).append('\n'));
        writeOwnerOnly(fresh, text.toString());
        Files.move(fresh, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
    }

    private static List<MasterKey> parse(String text) throws IOException {
        List<MasterKey> keys = text.lines()
                .filter(line -> !line.isBlank())
                .map(line -> MasterKey.parse(line.strip()))
                .toList();
        if (keys.isEmpty()) {
            throw new IOException("there is no master key");
        }
        return keys;
    }

    private static String commandOutput(List<String> command) throws IOException, InterruptedException {
        Process process = new ProcessBuilder(command)
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
        String out =
                new String(process.getInputStream().readNBytes(64 * 1024), java.nio.charset.StandardCharsets.UTF_8);
        if (!process.waitFor(KEY_COMMAND_SECONDS, java.util.concurrent.TimeUnit.SECONDS) || process.exitValue() != 0) {
            process.destroy();
            throw new IOException("the master key command failed");
        }
        return out;
    }

    @Override
    public void close() throws IOException {
        channel.close();
    }
}
