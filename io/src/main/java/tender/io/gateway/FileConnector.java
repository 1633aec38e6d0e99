package tender.io.gateway;

import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import tender.core.backup.Snapshot;
import tender.core.device.DeviceFiles;
import tender.core.device.SystemFacts;
import tender.core.office.Device;

/**
 * Gateways that nobody can reach: people give their files, known by absolute path on the device. The target's user is the
 * gateway's name. Such a gateway can be read and nothing else.
 */
public final class FileConnector implements Connector {
    private static final String IDENTITY = "dropped-files";

    /** Where given files are kept. */
    public interface Given {
        /** What was given for a gateway; empty where nothing was. */
        Optional<Files> of(String gateway);
    }

    /**
     * @param contents by absolute path on the device
     * @param taken when they were copied there
     */
    public record Files(SortedMap<String, byte[]> contents, Instant taken) {}

    private final Given given;

    public FileConnector(Given given) {
        this.given = given;
    }

    @Override
    public String identity(Target target) {
        return IDENTITY;
    }

    @Override
    public ManagementConnection open(Target target) {
        return new Dropped(target);
    }

    @Override
    public void close() {
        // holds nothing open
    }

    private final class Dropped extends ReadOnlyConnection {
        private final Target target;

        private Dropped(Target target) {
            super("this gateway is known from dropped files alone; change it there and drop the new ones");
            this.target = target;
        }

        private Files files() {
            return given.of(target.user())
                    .orElseThrow(() -> new GatewayFailure(
                            GatewayFailure.Kind.UNREADABLE,
                            "no file has been dropped yet: tender gateway load NAME --as PATH FILE",
                            null));
        }

        @Override
        public Set<Capability> capabilities() {
            return Set.of(Capability.READ);
        }

        @Override
        public Snapshot readAll() {
            TreeMap<String, byte[]> out = new TreeMap<>();
            files().contents().forEach((path, content) -> {
                // the description may have become another since the files were given
                if (target.description().speaksOf(path)) {
                    out.put(path.substring(1), content);
                }
            });
            if (out.isEmpty()) {
                throw new GatewayFailure(
                        GatewayFailure.Kind.UNREADABLE,
                        "none of the files that were dropped is one that the description speaks of",
                        null);
            }
            return new Snapshot(out);
        }

        @Override
        public Instant asOf(Instant now) {
            return files().taken();
        }

        @Override
        public Device device(Snapshot configuration, Instant now) {
            return DeviceFiles.read(
                    target.description(),
                    new DeviceFiles.Answers(
                            configuration.files(),
                            Optional.empty(),
                            Optional.empty(),
                            Optional.empty(),
                            SystemFacts.NONE,
                            now));
        }
    }
}
