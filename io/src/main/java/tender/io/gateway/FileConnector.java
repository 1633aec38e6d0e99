package tender.io.gateway;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import tender.core.backup.Snapshot;
import tender.core.device.DeviceFiles;
import tender.core.office.Device;
import tender.core.wireguard.StatusDump;

/**
 * Gateways that nobody can reach: their files are dropped by hand into a folder of their own, laid out as on the device.
 * The target's user is the folder's name. Such a gateway can be read and nothing else.
 */
public final class FileConnector implements Connector {
    private static final String IDENTITY = "dropped-files";
    private static final long MAX_FILE_BYTES = 8L * 1024 * 1024;

    private final Path folder;

    public FileConnector(Path folder) {
        this.folder = folder;
    }

    @Override
    public String identity(Target target) {
        return IDENTITY;
    }

    @Override
    public ManagementConnection open(Target target) {
        return new Dropped(folder.resolve(target.user()), target);
    }

    @Override
    public void close() {
        // holds nothing open
    }

    private static final class Dropped implements ManagementConnection {
        private final Path root;
        private final Target target;

        private Dropped(Path root, Target target) {
            this.root = root;
            this.target = target;
        }

        @Override
        public Set<Capability> capabilities() {
            return Set.of(Capability.READ);
        }

        @Override
        public Snapshot readAll() {
            TreeMap<String, byte[]> out = new TreeMap<>();
            for (String described : target.description().folders()) {
                Path place = root.resolve(described.substring(1));
                if (!Files.isDirectory(place, LinkOption.NOFOLLOW_LINKS)) {
                    continue;
                }
                try (Stream<Path> files = Files.list(place)) {
                    for (Path file : files.sorted().toList()) {
                        String path = "/" + root.relativize(file);
                        if (Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)
                                && target.description().speaksOf(path)) {
                            if (Files.size(file) > MAX_FILE_BYTES || out.size() >= Snapshot.MAX_FILES) {
                                throw new GatewayFailure(
                                        GatewayFailure.Kind.UNREADABLE, path + " is beyond what is read", null);
                            }
                            out.put(path.substring(1), Files.readAllBytes(file));
                        }
                    }
                } catch (IOException e) {
                    throw new GatewayFailure(GatewayFailure.Kind.UNREADABLE, "the dropped files cannot be read", e);
                }
            }
            if (out.isEmpty()) {
                throw new GatewayFailure(
                        GatewayFailure.Kind.UNREADABLE,
                        "no file has been dropped yet: tender gateway drop NAME --as PATH FILE",
                        null);
            }
            return new Snapshot(out);
        }

        /** When the files were copied at the device, which the folder's own time tells. */
        @Override
        public Instant asOf(Instant now) {
            try {
                return Files.getLastModifiedTime(root).toInstant();
            } catch (IOException e) {
                throw new GatewayFailure(GatewayFailure.Kind.UNREADABLE, "the dropped files cannot be read", e);
            }
        }

        @Override
        public Device device(Snapshot configuration, Instant now) {
            return DeviceFiles.read(
                    target.description(),
                    new DeviceFiles.Answers(
                            configuration.files(), Optional.empty(), Optional.empty(), Optional.empty(), now));
        }

        private GatewayFailure cannot() {
            return new GatewayFailure(
                    GatewayFailure.Kind.NOT_CAPABLE,
                    "this gateway is known from dropped files alone; change it there and drop the new ones",
                    null);
        }

        @Override
        public StatusDump status() {
            return new StatusDump(List.of());
        }

        @Override
        public List<Connected> connected() {
            return List.of();
        }

        @Override
        public List<String> log(int lines) {
            throw cannot();
        }

        @Override
        public Instant clock() {
            throw cannot();
        }

        @Override
        public byte[] tunnel(String listener) {
            throw cannot();
        }

        @Override
        public byte[] revocationLists(String path) {
            throw cannot();
        }

        @Override
        public Applied apply(GatewayPlan plan, Hold hold) {
            throw cannot();
        }

        @Override
        public void reload() {
            throw cannot();
        }

        @Override
        public void undo(Snapshot before, Optional<Snapshot> after, Hold hold) {
            throw cannot();
        }

        @Override
        public void arm(Duration after) {
            throw cannot();
        }

        @Override
        public void disarm() {
            throw cannot();
        }

        @Override
        public void close() {
            // holds nothing open
        }
    }
}
